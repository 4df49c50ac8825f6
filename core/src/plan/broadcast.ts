import { MASK_WRITE } from '../frame/index.js';
import type { Device, Point, ProjectDocument } from '../model/index.js';
import type { Way } from './way.js';

/**
 * Why a point of a device that is reached this way cannot be written to every unit of its line at once; null where it can.
 * `isPartial` where only some bits of its register are written.
 */
export function whyNotBroadcast(point: Point, device: Device, { broadcastOn, front, endpoint }: Way, isPartial: boolean): string | null {
  if (!broadcastOn)
    return front
      ? `${front.device.name} is not said to pass unit 0 on: to it, unit 0 is itself. If its manual says that it does, add 0 to the unit IDs that it passes on, in Lines.`
      : `${endpoint.name} is on Ethernet, and there is a broadcast on serial lines only.`;
  if (isPartial && !device.functionCodes.includes(MASK_WRITE))
    return `${point.name} is only some bits of its register, and without function 22 the others would have to be read first, which nobody answers.`;
  return null;
}

/** The other devices that hear a broadcast meant for a point of this one, with what they have at its place. */
export function alsoReached({ ports, devices, points }: ProjectDocument, point: Point): { device: Device; there: Point | null }[] {
  const line = ports.find(({ kind, deviceId }) => kind === 'serial' && deviceId === point.deviceId)?.lineId;
  return ports.flatMap((port) => {
    if (port.kind !== 'serial' || port.lineId !== line || port.unitId === null || port.deviceId === point.deviceId) return [];
    const device = devices.find(({ id }) => id === port.deviceId);
    const there = points.find((row) => row.deviceId === port.deviceId && row.table === point.table && row.offset === point.offset);
    return device ? [{ device, there: there ?? null }] : [];
  });
}
