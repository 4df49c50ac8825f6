import type { Case, Place } from './case.js';
import type { SignId } from './signs.js';
import type { TestId } from './tests.js';

/** A cause that can be judged by what it would show. */
export interface CauseDefinition {
  id: string;
  /** How often it is the cause where nothing is known, against the others; its medium alone decides whether it can be. */
  prior: number;
  medium: Case['medium'] | 'any';
  /** How probable it is that each sign is seen where this is the cause; a sign that is not named is seen by chance only. */
  shows: Partial<Record<SignId, number>>;
  /** Signs without which it makes no sense to name it: one of them has to be seen. */
  needs: readonly SignId[];
  sentence(of: Case): string;
  at(of: Case): Place;
  /** What would confirm it, where that is more than looking. */
  told?: readonly TestId[];
}

export function defineCause(cause: CauseDefinition): CauseDefinition {
  return cause;
}
