/** One step as it was carried out. */
export interface StepRun {
  /** From 1. */
  step: number;
  atMs: number;
  ms: number;
  ok: boolean;
  sentence: string;
}

/** One run of an errand, with its steps and times; times are in ms since 1970. */
export interface ErrandRun {
  id: string;
  errandId: string;
  name: string;
  startedBy: string;
  atMs: number;
  endedAtMs: number | null;
  state: 'runs' | 'done' | 'failed' | 'stopped';
  /** Where it failed why, or that it is done. */
  sentence: string;
  steps: StepRun[];
}
