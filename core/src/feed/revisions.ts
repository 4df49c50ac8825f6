/** An edit of a project, as it is listed: the revision that came of it, what it was called, and how many things it changed. */
export interface RevisionEntry {
  id: string;
  kind: 'edit' | 'undo' | 'redo';
  label: string;
  revision: number;
  atMs: number;
  by: string | null;
  size: number;
}

/** A revision that somebody has given a name. */
export interface NamedRevision {
  revision: number;
  name: string;
  note: string;
  atMs: number;
  by: string | null;
}

export interface RevisionHistory {
  /** At which the project is. */
  current: number;
  /** The oldest that can still be worked out. */
  first: number;
  /** The newest first. */
  entries: RevisionEntry[];
  names: NamedRevision[];
}
