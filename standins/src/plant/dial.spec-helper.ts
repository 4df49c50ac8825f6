import type { Endpoint } from '@plain-envoy/core/plan';
import { ChannelTransport, type ClientTransport, openSocket, overEthernet } from '@plain-envoy/engine/transport';
import type { Plant } from './plant.js';

/** Dials the stand-ins of a plant: at their loopback addresses, or by the adapter to their line. */
export function dialler(plant: Plant, tcpPort: number): (endpoint: Endpoint) => ClientTransport {
  return (endpoint) =>
    endpoint.via === 'ethernet'
      ? overEthernet(endpoint.framing, endpoint.standInAddress!, tcpPort)
      : new ChannelTransport(async () => openSocket('127.0.0.1', (await plant.adapter(endpoint.id, endpoint.settings))!), endpoint.framing);
}
