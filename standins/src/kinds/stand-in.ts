import type { Extents } from '@plain-envoy/core/map';
import type { Device } from '@plain-envoy/core/model';
import type { RegisterBank } from '@plain-envoy/engine/server';

/** A simulated device: registers, and what it does with them as time passes. */
export interface StandIn {
  readonly bank: RegisterBank;
  /** Lives on for `ms`; called many times a second. */
  step(ms: number): void;
  /** A master has just asked or written something; devices that watch their communication need to know. */
  heard?(): void;
  /** Is set as the device is in the project, at first and after each edit; `extents` are the registers of its map. */
  takeSettings?(device: Device, extents: Extents): void;
  /** False where this answer is lost on the way. */
  answers?(): boolean;
}

/** Watches a heartbeat of the other side. It waits for the first beat, so that a side that was never there trips nothing. */
export class Watchdog {
  private last: number | null = null;
  private hasBeaten = false;
  private stillMs = 0;

  constructor(private readonly limitMs: number) {}

  /** Whether the other side has beaten, and then stood still for too long. */
  trips(beat: number, ms: number): boolean {
    const moved = this.last !== null && beat !== this.last;
    this.hasBeaten ||= moved;
    this.stillMs = moved ? 0 : this.stillMs + ms;
    this.last = beat;
    return this.hasBeaten && this.stillMs > this.limitMs;
  }
}

/** Noise that is the same at every start, between −1 and 1 (a linear congruential generator). */
export function noise(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 0x8000_0000 - 1;
  };
}

/** A link on which answers are lost by chance: whether the next comes through, where so many of all are lost (0 to 1). */
export function lossyLink(seed: number): (lost: number) => boolean {
  const chance = noise(seed);
  return (lost) => (chance() + 1) / 2 >= lost;
}

/** Moves `value` towards `target` by at most `most`. */
export function towards(value: number, target: number, most: number): number {
  return value < target ? Math.min(target, value + most) : Math.max(target, value - most);
}
