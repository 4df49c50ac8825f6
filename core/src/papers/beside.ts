import { blankPoint, type Change, isSame, type PaperPoint, type Point, pointWidth, type ProjectDocument } from '../model/index.js';
import { paperPointOf, papersOf } from './papers.js';

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
export function beside(document: Pick<ProjectDocument, 'points' | 'papers'>, deviceId: string): Beside[] {
  const papers = papersOf(document, deviceId);
  if (!papers) return [];
  const known = new Set<PaperPoint>();
  const rows = document.points.flatMap((point): Beside[] => {
    if (point.deviceId !== deviceId) return [];
    const paper = paperPointOf(document, point);
    if (!paper) return [{ point, paper: null, differs: [] }];
    known.add(paper);
    const differs = compared.filter((field) => !isSame(point[field], paper[field]) && !(field === 'order' && pointWidth(paper) === 1));
    return differs.length ? [{ point, paper, differs }] : [];
  });
  return [...rows, ...papers.points.filter((paper) => !known.has(paper)).map((paper) => ({ point: null, paper, differs: [] }))];
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
