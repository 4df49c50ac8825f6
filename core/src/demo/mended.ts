import type { ProjectDocument } from '../model/index.js';
import { REACTIVE_ENERGY } from './papers.js';
import { fernhollow } from './fernhollow.js';

/** The demo without what is wrong with it on purpose: every device answers, and every register has one writer. */
export function mendedFernhollow(): ProjectDocument {
  const { ports, points, routes, devices, ...rest } = fernhollow();
  const id = (name: string) => devices.find((device) => device.name === name)!.id;
  const [south, cable, meter] = [id('Fan drive south'), id('Grain cable 6'), id('Plant meter')];
  return {
    ...rest,
    devices,
    ports: ports.map((port) => {
      if (port.kind !== 'serial') return port;
      if (port.deviceId === cable) return { ...port, unitId: 6 };
      return port.deviceId === south ? { ...port, parity: 'even' } : port;
    }),
    points: points.map((point) =>
      point.deviceId === meter && point.name === REACTIVE_ENERGY.name ? { ...point, order: REACTIVE_ENERGY.order } : point,
    ),
    routes: routes.filter(({ name }) => name !== 'Damper for the steeps'),
  };
}
