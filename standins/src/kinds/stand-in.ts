import type { RegisterBank } from '@plain-envoy/engine/server';

/** A simulated device: registers, and what it does with them as time passes. */
export interface StandIn {
  readonly bank: RegisterBank;
  /** Lives on for `ms`; called many times a second. */
  step(ms: number): void;
  /** A master has just asked or written something; devices that watch their communication need to know. */
  heard?(): void;
  /** False where this answer is lost on the way. */
  answers?(): boolean;
}

/** Noise that is the same at every start, between −1 and 1 (a linear congruential generator). */
export function noise(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 0x8000_0000 - 1;
  };
}

/** Moves `value` towards `target` by at most `most`. */
export function towards(value: number, target: number, most: number): number {
  return value < target ? Math.min(target, value + most) : Math.max(target, value - most);
}
