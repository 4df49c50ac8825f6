import type { Change, HistoryEntry, Point } from '../model/index.js';
import type { Fault } from './faults.js';
import type { Batch } from './report.js';

/** Whether the bench runs, on which project, and since when. */
export interface BenchState {
  running: boolean;
  projectId: string | null;
  sinceMs: number | null;
  /** Why it stopped by itself; null otherwise. */
  stoppedBecause: string | null;
}

/** Whether the database answers, and since when it does not. */
export type DatabaseHealth = { ok: true } | { ok: false; sinceMs: number; message: string };

/** An edit that was accepted, as it is told to everyone who has the project open. */
export interface Accepted {
  projectId: string;
  revision: number;
  label: string;
  kind: HistoryEntry['kind'];
  changes: Change[];
  /** What undo and redo would do next; null where there is nothing. */
  undo: string | null;
  redo: string | null;
}

/** A stand-in as its own process describes it. */
export interface StandInState {
  deviceId: string;
  name: string;
  kind: string;
  cut: boolean;
  hasRegisters: boolean;
  held: { table: string; offset: number }[];
  /** What it was told to do wrong. */
  faults: Fault[];
}

/** What a stand-in holds for a point of the project, and the point as the papers of the device have it. */
export interface Looked {
  /** Of the project's point. */
  id: string;
  point: Point;
  words: number[];
}

/** What the server tells a page. */
export type ToPage =
  | { type: 'bench'; bench: BenchState }
  | { type: 'database'; database: DatabaseHealth }
  /** Why the stand-ins could not be set as the project is; null when they are. */
  | { type: 'stand-ins'; problem: string | null }
  | { type: 'changed'; accepted: Accepted }
  | ({ type: 'values' } & Batch);
