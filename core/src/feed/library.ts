import type { Identification } from '../identity/index.js';

/** A device of the library in the list of all, by its newest version. */
export interface LibraryRow {
  id: string;
  name: string;
  version: number;
  /** How many points its map has. */
  points: number;
  note: string;
  /** What it says of itself when it is asked. */
  identification: Identification;
  atMs: number;
  /** Who gave it, where one has to sign in. */
  by: string | null;
}
