/** A device of the library in the list of all, by its newest version. */
export interface LibraryRow {
  id: string;
  name: string;
  version: number;
  /** How many points its map has. */
  points: number;
  note: string;
  atMs: number;
  /** Who gave it, where one has to sign in. */
  by: string | null;
}
