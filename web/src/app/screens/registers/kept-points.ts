import { type Change, deletion, isSame, type Point, type ProjectDocument } from '@plain-envoy/core/model';
import { good, type Outcome } from '@plain-envoy/core/outcome';
import { placeFar } from '@plain-envoy/core/placing';

/**
 * What keeps these points of a device that speaks no Modbus: those that are new, or that `isMoved` says of, are placed where the carrier
 * reaches them; those that were `known` and are wanted no more are taken away, with what names them.
 */
export function keepPoints(
  document: ProjectDocument,
  deviceId: string,
  known: readonly Point[],
  wanted: readonly Point[],
  isMoved: (before: Point, after: Point) => boolean,
): Outcome<Change[]> {
  const before = new Map(known.map((point) => [point.id, point]));
  const moving = wanted.filter((point) => {
    const was = before.get(point.id);
    return !was || was.type !== point.type || isMoved(was, point);
  });
  const staying = document.points.filter(({ id }) => !moving.some((point) => point.id === id));
  const placed = placeFar({ ...document, points: [...staying, ...moving] }, deviceId, moving);
  if (!placed.ok) return placed;
  const at = new Map(placed.value.map((point) => [point.id, point]));
  const kept = new Set(wanted.map(({ id }) => id));
  const changes = wanted.flatMap((point): Change[] => {
    const [was, after] = [before.get(point.id) ?? null, at.get(point.id) ?? point];
    return was && isSame(was, after) ? [] : [{ entity: 'point', id: point.id, before: was, after }];
  });
  const gone = known.flatMap(({ id }) => (kept.has(id) ? [] : [id]));
  return good([...changes, ...deletion(document, 'point', ...gone)]);
}
