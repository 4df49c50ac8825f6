import { STEPS } from './machine.js';
import { LONGEST_PROGRAM } from './parse.js';

/** How large a program may be: the characters of its text, the variables of one unit, the elements of all together, and the steps of a scan. */
export interface Bounds {
  characters: number;
  variables: number;
  elements: number;
  steps: number;
}

/** What a person may write. */
export const written: Bounds = { characters: LONGEST_PROGRAM, variables: 5000, elements: 100_000, steps: STEPS };

/** What was made here, for as many routes as a project may have. */
export const made: Bounds = { characters: Infinity, variables: 1_000_000, elements: 10_000_000, steps: 20_000_000 };
