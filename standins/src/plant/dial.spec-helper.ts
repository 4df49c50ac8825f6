import { dialOf, type Endpoint } from '@plain-envoy/core/plan';
import type { ClientTransport } from '@plain-envoy/engine/links';
import { openDial } from '@plain-envoy/engine/transports';
import type { Plant } from './plant.js';

/** Opens the ways to the stand-ins of a plant: at their loopback addresses, or by the adapter to their line. */
export function dialler(plant: Plant, standInsPort: number): (endpoint: Endpoint) => ClientTransport {
  const own = {
    adapter: async (lineId: string, settings: Parameters<Plant['adapter']>[1]) => (await plant.adapter(lineId, settings))!,
    serial: () => Promise.reject(new Error('The stand-ins have no serial ports.')),
  };
  return (endpoint) => openDial(dialOf(endpoint, 'stand-ins', standInsPort), own);
}
