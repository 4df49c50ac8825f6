import { type ProjectMaker, routeBetween } from '../making/index.js';
import { BY_ITS_MAP, type Device } from '../model/index.js';

/** Where in the controller the values of all devices begin, and their set points: one register each. */
const VALUES_AT = 0;
const SET_POINTS_AT = 100;
/** What the two requests to a device take on a bus of 19200 baud, with as much again to spare. */
const EACH_MS = 70;
const PERIODS_MS = [500, 1000, 2000, 5000, 10_000];

/** What plays a device that nothing else is known of. */
export const played = { standIn: BY_ITS_MAP } as const;

/** The controller of a plant that begins. */
export const controller = { kind: 'controller', ...played } as const;

export function fieldDevices(maker: ProjectMaker, count: number): Device[] {
  return Array.from({ length: count }, (_, index) => maker.device(`Device ${index + 1}`, played));
}

/** A value that each device gives the controller and a set point that it gets from there, so that there is something to run from the start. */
export function exchange(maker: ProjectMaker, asks: Device, devices: readonly Device[]): void {
  const periodMs = PERIODS_MS.find((period) => period >= devices.length * EACH_MS)!;
  const { id: roundId } = maker.round(periodMs, { name: `Every ${periodMs} ms` });
  devices.forEach((device, index) => {
    const value = maker.point(device, 'Value', { offset: 0, access: 'read' });
    const setPoint = maker.point(device, 'Set point', { offset: 1 });
    const copy = maker.point(asks, `${device.name} value`, { offset: VALUES_AT + index });
    const wanted = maker.point(asks, `${device.name} set point`, { offset: SET_POINTS_AT + index });
    for (const [from, to, name] of [
      [value, copy, copy.name],
      [wanted, setPoint, wanted.name],
    ] as const)
      maker.document.routes.push({ ...routeBetween(from, to, { id: maker.nextId(), roundId }, asks.id), name });
  });
}

/** The ends of a bus have its resistors, and who asks gives the idle pair its level. */
export function endBus(maker: ProjectMaker, lineId: string): void {
  const here = maker.document.ports.filter((port) => port.kind === 'serial' && port.lineId === lineId);
  here.forEach((port, index) => {
    if (port.kind !== 'serial') return;
    port.terminated = index === 0 || index === here.length - 1;
    port.bias = index === 0;
    port.shield = index === 0 ? 'grounded' : 'open';
  });
}
