import { Stopped, type At } from './problem.js';

/** Statements, rounds of loops and copied elements that one scan may take. */
export const STEPS = 200_000;

/** What whoever runs a program tells it of the world outside; all of it is of the scan that begins. */
export interface Outside {
  /** How long no master has spoken to this device, in ms. */
  silentMs: number;
  /** Whether a point was written by a master since the last scan, by its place among the variables from outside. */
  isWritten(index: number): boolean;
  /** Sends a text from the text port of the device; false where more waits to be sent than a port holds. */
  send(text: string): boolean;
  /** The next text that came in at its text port; empty where none did. */
  received(): string;
}

/** Nothing goes on there. */
export const quiet: Outside = { silentMs: 0, isWritten: () => false, send: () => false, received: () => '' };

/** What all parts of a running program share: its global variables, its clock, and how much it may still do in this scan. */
export class Machine {
  /** Variables from outside, then global ones. */
  readonly globals: unknown[] = [];
  /** Time since the first scan in ms, taken once a scan. */
  nowMs = 0;
  /** Time since the scan before; 0 in the first. */
  scanMs = 0;
  left = 0;
  outside: Outside = quiet;

  /** `steps`: how many one scan may take. */
  constructor(readonly steps = STEPS) {}

  begin(ms: number, outside: Outside = quiet): void {
    this.scanMs = ms;
    this.nowMs += ms;
    this.left = this.steps;
    this.outside = outside;
  }

  /** Takes so many steps, or stops the program where it is. */
  spend(steps: number, at: At): void {
    this.left -= steps;
    if (this.left < 0)
      throw new Stopped(`It does more than ${this.steps.toLocaleString('en')} steps in one scan and was stopped here.`, at);
  }
}
