import { pointsOfErrand, type ProjectDocument } from '../model/index.js';

/** Whether a thing of a project, by its id, is of what a book is about. */
export type IsIn = (id: string) => boolean;

/**
 * What of a project has to do with some of its lines: they and the devices that have a port on one of them, with their ports, points,
 * telegrams and frames; the routes that begin or end at such a device, and their rounds; errands that touch one of its points.
 * Null for all there is. The project itself is always of it.
 */
export function scopeOf(document: ProjectDocument, lineIds: readonly string[] | null): IsIn {
  if (lineIds === null) return () => true;
  const { project, ports, points, telegrams, frames, routes, errands } = document;
  const lines = new Set(lineIds);
  const devices = new Set(ports.filter(({ lineId }) => lines.has(lineId)).map(({ deviceId }) => deviceId));
  const owned = [ports, points, telegrams, frames].flatMap((rows) =>
    rows.filter(({ deviceId }) => devices.has(deviceId)).map(({ id }) => id),
  );
  const isIn = new Set([project.id, ...lines, ...devices, ...owned]);
  for (const { id, roundId, sourceId, destinationId } of routes) {
    if (!isIn.has(sourceId) && !isIn.has(destinationId)) continue;
    isIn.add(id);
    isIn.add(roundId);
  }
  for (const errand of errands) if (pointsOfErrand(errand).some((id) => isIn.has(id))) isIn.add(errand.id);
  return (id) => isIn.has(id);
}
