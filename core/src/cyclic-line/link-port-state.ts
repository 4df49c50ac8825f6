import type { LinkStateName } from '../media/index.js';

/** An end of a cyclic link. */
export interface LinkPortState {
  upMs: number;
  state: LinkStateName;
  /** Why the other end refuses it, or what was wrong with what came last; null where nothing is. */
  problem: string | null;
  /** Blocks that came, that went, that stayed away by their numbers, and that came twice or too late. */
  heard: number;
  sent: number;
  missed: number;
  doubled: number;
  /** How many times it was lost. */
  lost: number;
  /** How long ago the last block came; null where none did. */
  ageMs: number | null;
  /** What the last blocks held, in hex from byte 0 on. */
  input: string;
  output: string;
  /** The program of a controller that takes blocks apart and makes them: how often it ran, and why it does not; null where there is none. */
  program: { runs: number; problem: string | null } | null;
}
