import type { Point, Round, Route } from '../model/index.js';

/** A route whose ends exist, fit together and can be reached, with everything else that it names. */
export interface ValidRoute {
  route: Route;
  round: Round;
  source: Point;
  destination: Point;
  /** Bits that trigger it, allow it, or choose between two values. */
  others: Point[];
  valid: Point | null;
  release: { point: Point; words: number[]; when: 'before' | 'after' } | null;
}
