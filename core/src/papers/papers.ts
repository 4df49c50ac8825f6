import { mendedFernhollow } from '../demo/index.js';
import type { Device, Point } from '../model/index.js';

const { devices, points: known } = mendedFernhollow();

/**
 * A point as the papers of its device have it, whatever a project says of it: found by its name, or else by its place. Null where
 * the device has no papers, or they do not know the point.
 */
export function paperOf({ id, standIn }: Pick<Device, 'id' | 'standIn'>, point: Point): Point | null {
  const own = devices.some((device) => device.id === id) ? [id] : devices.flatMap((row) => (row.standIn === standIn ? row.id : []));
  const points = known.filter(({ deviceId }) => own.includes(deviceId));
  const atPlace = ({ table, offset, bit }: Point) => table === point.table && offset === point.offset && bit === point.bit;
  return points.find(({ name }) => name === point.name) ?? points.find(atPlace) ?? null;
}
