import type { Device } from '@plain-envoy/core/model';
import type { Placed, PlayedMap } from '@plain-envoy/core/playing';
import { RegisterBank } from '@plain-envoy/engine/server';
import { isDeepStrictEqual } from 'node:util';
import { lossyLink } from './noise.js';
import { RunningProgram, type Written } from './running-program.js';

/**
 * Any device that is played: it has the registers of its map, runs the program that its device has, holds what is written to it, and
 * loses as many answers as it is said to.
 */
export class PlayedDevice {
  readonly bank = new RegisterBank({});
  private readonly comesThrough = lossyLink(3);
  private lossPercent = 0;
  private running: RunningProgram | null = null;
  private runs: { program: string; points: readonly Placed[] } | null = null;

  /** The program as it runs now; null where the device has none. */
  get program(): RunningProgram | null {
    return this.running;
  }

  /** Is set as the device is in the project, at first and after each edit. A program goes on as long as neither its text nor its points change. */
  takeSettings({ lossPercent, program }: Pick<Device, 'lossPercent' | 'program'>, { extents, points }: PlayedMap): void {
    this.lossPercent = lossPercent;
    this.bank.reshape(extents);
    const runs = program.trim() === '' ? null : { program, points };
    if (isDeepStrictEqual(runs, this.runs)) return;
    this.runs = runs;
    this.restart();
  }

  /** Begins its program anew, as after switching on. */
  restart(): void {
    this.running = this.runs && new RunningProgram(this.bank, this.runs.program, this.runs.points);
    this.running?.scan(0);
  }

  /** Lives on for `ms`: one scan. */
  step(ms: number): void {
    this.running?.scan(ms);
  }

  /** A master has asked something. */
  heard(): void {
    this.running?.heard();
  }

  /** A master has written something, and was told that it is done. */
  wrote(written: Written): void {
    this.running?.wrote(written);
  }

  /** False where this answer is lost on the way. */
  answers(): boolean {
    return this.comesThrough(this.lossPercent / 100);
  }
}
