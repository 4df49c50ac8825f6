import { asPaperPoint, bodyOf, type Paper, type Point } from '../model/index.js';
import { isFar } from '../place/index.js';
import { nextId, projectId } from './ids.js';
import { points } from './make.js';
import { devices } from './site.js';

/** What the manual of the plant meter says otherwise than the map of the demo, in which it is a mistake on purpose. */
export const REACTIVE_ENERGY = { name: 'Reactive energy', order: 'BADC' } as const;

function inPapers(point: Point): Point {
  return point.name === REACTIVE_ENERGY.name ? { ...point, order: REACTIVE_ENERGY.order } : point;
}

/** The papers of the demo's devices; each stand-in keeps to those of its device. */
export const papers: Paper[] = devices.flatMap((device) => {
  const own = points.filter(({ deviceId, place }) => deviceId === device.id && !isFar(place));
  if (device.standIn === null || own.length === 0) return [];
  const nameOf = (id: string | null) => own.find((point) => point.id === id)?.name ?? null;
  const rows = own.map((point) => asPaperPoint(bodyOf(inPapers(point)), nameOf(point.releasedBy)));
  return [{ id: nextId(), projectId, deviceId: device.id, source: 'The manual of its maker', points: rows }];
});
