import type { Point } from '../model/index.js';

/** How good what lies somewhere is: `unwritten` where nobody has written it yet, `old` where that was too long ago. */
export type Freshness = 'good' | 'unwritten' | 'old';

/** Where values of devices that speak no Modbus are kept. Words are as the point lays them out; a single bit is 0 or 1. */
export interface PointMemory {
  read(point: Point): number[];
  write(point: Point, words: number[]): void;
  /** How good what a point holds is, where it is known when that was written; `staleMs` says after how long it is old. */
  freshness?(point: Point, staleMs: number | null): Freshness;
}
