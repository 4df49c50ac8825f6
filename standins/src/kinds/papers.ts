import { fernhollow } from '@plain-envoy/core/demo';
import type { Device, Point } from '@plain-envoy/core/model';

const plant = fernhollow();

/** What the papers of the devices say, where the project says otherwise on purpose. */
const corrections: Readonly<Record<string, Partial<Point>>> = { 'Reactive energy': { order: 'BADC' } };

const papers = plant.devices.map((device) => ({
  device,
  points: plant.points
    .filter(({ deviceId }) => deviceId === device.id)
    .map((point) => ({ ...point, ...(device.standIn === 'plant-meter' ? corrections[point.name] : {}) })),
}));

/**
 * A point as the papers of its device have it, whatever a project says of it: found by its name, or else by its place. Null where
 * the device has no papers, or they do not know the point.
 */
export function inPapers({ id, standIn }: Pick<Device, 'id' | 'standIn'>, point: Point): Point | null {
  const own = papers.filter(({ device }) => device.id === id);
  const like = papers.filter(({ device }) => standIn !== null && device.standIn === standIn);
  const points = (own.length ? own : like).flatMap((paper) => paper.points);
  const atPlace = ({ table, offset, bit }: Point) => table === point.table && offset === point.offset && bit === point.bit;
  return points.find(({ name }) => name === point.name) ?? points.find(atPlace) ?? null;
}
