import { RegisterBank } from '@plain-envoy/engine/server';
import type { StandIn } from './stand-in.js';

const TEXT = 0;
const TEXT_WORDS = 16;
const STATUS = 100;
const REPLY = 110;
const SHOWS_AFTER_MS = 1500;

/** A display: a text written to its registers is taken over after a while; then it is ready again and repeats the text in its reply. */
export class YardDisplay implements StandIn {
  readonly bank = new RegisterBank({
    holding: [
      [TEXT, TEXT + TEXT_WORDS - 1],
      [STATUS, STATUS + 25],
    ],
  });
  private shown = '';
  private waitedMs = 0;

  constructor() {
    this.bank.set('holding', STATUS, 1);
  }

  step(ms: number): void {
    const words = [...this.bank.slice('holding', TEXT, TEXT_WORDS)];
    const wanted = words.join();
    if (wanted === this.shown || (this.shown === '' && words.every((word) => word === 0))) {
      this.waitedMs = 0;
      return;
    }
    this.waitedMs += ms;
    const ready = this.waitedMs >= SHOWS_AFTER_MS;
    this.bank.set('holding', STATUS, Number(ready));
    if (!ready) return;
    this.shown = wanted;
    this.bank.set('holding', REPLY, ...words);
  }
}
