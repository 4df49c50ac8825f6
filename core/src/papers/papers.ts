import { atRegister } from '../place/index.js';
import { asPaperPoint, bodyOf, type Change, type Paper, type PaperPoint, type Point, type ProjectDocument } from '../model/index.js';

/** Points of papers, found by name or place; of what is there twice, the first counts. */
export class PaperIndex {
  private readonly byName: ReadonlyMap<string, PaperPoint>;
  private readonly byPlace: ReadonlyMap<string, PaperPoint>;

  constructor(points: readonly PaperPoint[]) {
    const last = [...points].reverse();
    this.byName = new Map(last.map((point) => [point.name, point]));
    this.byPlace = new Map(last.map((point) => [placeOf(point), point]));
  }

  /** A point by its name, or else by its place. */
  find(point: Pick<Point, 'name' | 'table' | 'offset' | 'bit'>): PaperPoint | null {
    return this.byName.get(point.name) ?? this.byPlace.get(placeOf(point)) ?? null;
  }
}

interface Indexed {
  paper: Paper;
  index: PaperIndex;
}

type WithPapers = Pick<ProjectDocument, 'papers'>;

/** Worked out once for each list of papers, which an edit of something else leaves as it is. */
const indexes = new WeakMap<readonly Paper[], ReadonlyMap<string, Indexed>>();

/** The papers of a device; undefined where it has none. */
export function papersOf(document: WithPapers, deviceId: string): Paper | undefined {
  return indexOf(document).get(deviceId)?.paper;
}

/**
 * A point as the papers of its device have it, whatever the project says of it: found by its name, or else by its place. Null where
 * the device has no papers, or they do not know the point.
 */
export function paperOf(document: WithPapers, point: Point): Point | null {
  const found = paperPointOf(document, point);
  if (!found) return null;
  const { releasedBy, ...body } = found;
  const { id, projectId, deviceId } = point;
  return { ...body, id, projectId, deviceId, setting: null, releasedBy: null, watchdogMs: null, place: atRegister };
}

/** The name, in the papers, of the point that has to be set so that this one takes what is written; null where there is none. */
export function releasedInPapers(document: WithPapers, point: Point): string | null {
  return paperPointOf(document, point)?.releasedBy ?? null;
}

/** What of the papers of its device a point is; null where they do not know it. */
export function paperPointOf(document: WithPapers, point: Point): PaperPoint | null {
  return indexOf(document).get(point.deviceId)?.index.find(point) ?? null;
}

/** Of which device papers are, and where they are from. */
export interface NewPapers {
  deviceId: string;
  projectId: string;
  source: string;
  newId(): string;
}

/** The change that makes the map of a device, as it is now, its papers. */
export function mapAsPapers({ points, papers }: Pick<ProjectDocument, 'points' | 'papers'>, of: NewPapers): Change {
  const own = points.filter(({ deviceId }) => deviceId === of.deviceId);
  const names = new Map(own.map(({ id, name }) => [id, name]));
  return asPapers(
    { papers },
    of,
    own.map((point) => asPaperPoint(bodyOf(point), names.get(point.releasedBy ?? '') ?? null)),
  );
}

/** The change that makes these points the papers of a device, in the place of those that it has. */
export function asPapers(document: WithPapers, { deviceId, projectId, source, newId }: NewPapers, points: PaperPoint[]): Change {
  const before = papersOf(document, deviceId) ?? null;
  const after: Paper = { id: before?.id ?? newId(), projectId, deviceId, source, points };
  return { entity: 'paper', id: after.id, before, after };
}

function indexOf({ papers }: WithPapers): ReadonlyMap<string, Indexed> {
  const known = indexes.get(papers);
  if (known) return known;
  const made = new Map<string, Indexed>();
  // Of what is there twice, the first counts.
  for (const paper of [...papers].reverse()) made.set(paper.deviceId, { paper, index: new PaperIndex(paper.points) });
  indexes.set(papers, made);
  return made;
}

function placeOf({ table, offset, bit }: Pick<Point, 'table' | 'offset' | 'bit'>): string {
  return `${table} ${offset} ${bit ?? ''}`;
}
