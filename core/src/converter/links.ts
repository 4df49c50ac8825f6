import * as z from 'zod';
import { CyclicLine } from '../media/index.js';
import { Point, type ProjectDocument } from '../model/index.js';
import { isFar } from '../place/index.js';

/** A cyclic link with its station, as it is drawn, and the points that lie in its blocks or are told of it. */
export const CarriedLink = z.object({
  line: CyclicLine,
  stationId: z.string(),
  stationName: z.string(),
  points: z.array(Point),
});
export type CarriedLink = z.infer<typeof CarriedLink>;

/** Each cyclic link that has a station, by the id of its line. */
export type Links = Readonly<Record<string, CarriedLink>>;

export function linksOf(document: ProjectDocument): Links {
  return Object.fromEntries(
    document.lines.flatMap(({ id }) => {
      const link = linkOn(document, id);
      return link ? [[id, link]] : [];
    }),
  );
}

/** The link that a line is; null for another kind of line, or one without a station. */
export function linkOn({ lines, ports, devices, points }: ProjectDocument, lineId: string): CarriedLink | null {
  const line = lines.find(({ id }) => id === lineId);
  if (line?.kind !== 'cyclic') return null;
  const port = ports.find((row) => row.lineId === lineId && row.kind === 'cyclic' && row.role === 'answers');
  const station = devices.find(({ id }) => id === port?.deviceId);
  if (!station) return null;
  const own = points.filter(({ deviceId, place }) => deviceId === station.id && isFar(place));
  return { line, stationId: station.id, stationName: station.name, points: own };
}
