import type { Finding } from '../findings/index.js';
import type { Project } from '../model/index.js';

/** How many findings there are of each severity. */
export type FindingCounts = Record<Finding['severity'], number>;

/** A project in the list of all. */
export interface ListedProject extends Pick<Project, 'id' | 'name' | 'client' | 'note'> {
  revision: number;
  changedAtMs: number;
  lines: number;
  devices: number;
  routes: number;
  /** Routes whose last proof held; null where that cannot be told. */
  proved: number | null;
  /** Null as long as they are not counted. */
  findings: FindingCounts | null;
  isArchived: boolean;
  /** When it was thrown away; null where it was not. */
  deletedAtMs: number | null;
  /** Where its bench runs; missing where it does not. */
  runsOn?: 'stand-ins' | 'real';
}

/** How the taking in of a project goes on. */
export type TakeInEvent = { kind: 'read'; rows: number } | { kind: 'written'; rows: number } | { kind: 'done'; id: string; name: string };
