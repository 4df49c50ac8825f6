import type { Point } from '../model/index.js';

/** Where values of devices that speak no Modbus are kept. Words are as the point lays them out; a single bit is 0 or 1. */
export interface PointMemory {
  read(point: Point): number[];
  write(point: Point, words: number[]): void;
}
