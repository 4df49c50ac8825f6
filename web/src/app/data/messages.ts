import type { Change } from '@plain-envoy/core/model';

/** What the server sends, as the page reads it. */
export type Quality = 'good' | 'stale' | 'bad';

export interface Reading {
  pointId: string;
  words: number[] | null;
  quality: Quality;
  reason: string | null;
  atMs: number | null;
}

export interface RouteState {
  routeId: string;
  quality: Quality;
  reason: string | null;
  writtenWords: number[] | null;
  writtenAtMs: number | null;
  sourceAtMs: number | null;
}

export interface Counters {
  id: string;
  valid: number;
  noResponse: number;
  corrupt: number;
  exceptions: Record<string, number>;
  missed: number;
  lastMs: number | null;
  meanMs: number | null;
  worstMs: number | null;
  lastOutcome: 'valid' | 'silent' | 'corrupt' | 'refused' | null;
  lastError: string | null;
}

export interface BenchState {
  running: boolean;
  projectId: string | null;
  sinceMs: number | null;
  stoppedBecause: string | null;
}

export type DatabaseState = { ok: true } | { ok: false; sinceMs: number; message: string };

export interface Accepted {
  projectId: string;
  revision: number;
  label: string;
  kind: 'edit' | 'undo' | 'redo';
  changes: Change[];
  undo: string | null;
  redo: string | null;
}

export type FromServer =
  | { type: 'bench'; bench: BenchState }
  | { type: 'database'; database: DatabaseState }
  | { type: 'changed'; accepted: Accepted }
  | { type: 'values'; readings: Reading[]; routes: RouteState[]; devices: Counters[]; requests: Counters[] };

export interface StandInState {
  deviceId: string;
  name: string;
  kind: string;
  cut: boolean;
  hasRegisters: boolean;
  held: { table: string; offset: number }[];
}
