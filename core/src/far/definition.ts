import type { Point, ProjectDocument } from '../model/index.js';
import type { Value } from '../value/index.js';

/** How old a value of a far point is where it is read, ms: the time between two messages, on the line, and in the converter. */
export interface Refresh {
  meanMs: number;
  worstMs: number;
}

/** What is special of values that lie at the far end of one kind of line. */
export interface FarKind {
  /** Whether it has to do with a point. */
  has(point: Point): boolean;
  /** Whether a value can be said there. */
  holds(document: ProjectDocument, point: Point, value: Value): boolean;
  /** How long what a device holds may take until it has left it, ms. */
  leavesWithinMs(document: ProjectDocument, point: Point): number;
  /** How old it is where it is read; null for what comes at no period. */
  refreshOf(document: ProjectDocument, point: Point): Refresh | null;
}
