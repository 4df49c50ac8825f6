import type { Place } from './case.js';

/** Something that is seen outright and has one cause: nothing is to be weighed. */
export interface Plain {
  cause: string;
  sentence: string;
  evidence: string;
  at: Place;
}
