import { blankPoint, type Change, isSame, type PaperPoint, type Point, pointWidth, type ProjectDocument } from '../model/index.js';
import { PaperIndex, papersOf } from './papers.js';

/** What says the same in map and papers, or does not; in the order in which it is told. */
export const compared = [
  'table',
  'offset',
  'bit',
  'type',
  'order',
  'length',
  'encoding',
  'scale',
  'unit',
  'access',
  'bits',
  'codes',
] as const;
export type Compared = (typeof compared)[number];

/** A point of the map beside what the papers have of it. */
export interface Beside {
  /** Null where the map does not have it. */
  point: Point | null;
  /** Null where the papers do not know it. */
  paper: PaperPoint | null;
  /** What the two have otherwise; nothing where one of them is missing. */
  differs: Compared[];
}

/** All of a device in which its map and its papers are not the same: what differs first, in the order of the map. None without papers. */
export function beside({ points, papers }: Pick<ProjectDocument, 'points' | 'papers'>, deviceId: string): Beside[] {
  const known = papersOf({ papers }, deviceId);
  return known
    ? mapsBeside(
        points.filter((point) => point.deviceId === deviceId),
        known.points,
      )
    : [];
}

/** The same for the points of a device and another map that it is laid beside. */
export function mapsBeside(points: readonly Point[], other: readonly PaperPoint[]): Beside[] {
  const index = new PaperIndex(other);
  const known = new Set<PaperPoint>();
  const rows = points.flatMap((point): Beside[] => {
    const paper = index.find(point);
    if (!paper) return [{ point, paper: null, differs: [] }];
    known.add(paper);
    const differs = compared.filter((field) => !isSame(point[field], paper[field]) && !(field === 'order' && pointWidth(paper) === 1));
    return differs.length ? [{ point, paper, differs }] : [];
  });
  return [...rows, ...other.filter((paper) => !known.has(paper)).map((paper) => ({ point: null, paper, differs: [] }))];
}

/** The change that gives the map what the papers have: other values of a point, or a new point. Null where the papers do not know it. */
export function fromPapers({ point, paper }: Beside, of: { deviceId: string; projectId: string; newId(): string }): Change | null {
  if (!paper) return null;
  const { releasedBy, ...body } = paper;
  if (point) return { entity: 'point', id: point.id, before: point, after: { ...point, ...body, name: point.name, note: point.note } };
  const { deviceId, projectId, newId } = of;
  const made: Point = { ...blankPoint({ id: newId(), projectId, deviceId }), ...body };
  return { entity: 'point', id: made.id, before: null, after: made };
}
