import { mendedFernhollow } from '../demo/index.js';
import type { Device, Point } from '../model/index.js';

const { devices, points: known } = mendedFernhollow();

/** The points of each device that has papers, by its id and by the kind of its stand-in; those found first count. */
const byDevice = new Map(devices.map(({ id }) => [id, known.filter(({ deviceId }) => deviceId === id)]));
const byKind = new Map(
  devices.flatMap(({ standIn }) =>
    standIn ? [[standIn, devices.flatMap((row) => (row.standIn === standIn ? byDevice.get(row.id)! : []))] as const] : [],
  ),
);

/**
 * A point as the papers of its device have it, whatever a project says of it: found by its name, or else by its place. Null where
 * the device has no papers, or they do not know the point.
 */
export function paperOf({ id, standIn }: Pick<Device, 'id' | 'standIn'>, point: Point): Point | null {
  const points = byDevice.get(id) ?? byKind.get(standIn ?? '') ?? [];
  const atPlace = ({ table, offset, bit }: Point) => table === point.table && offset === point.offset && bit === point.bit;
  return points.find(({ name }) => name === point.name) ?? points.find(atPlace) ?? null;
}
