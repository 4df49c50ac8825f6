import type { Extents } from '@plain-envoy/core/map';
import type { Device } from '@plain-envoy/core/model';
import { RegisterBank } from '@plain-envoy/engine/server';
import { lossyLink, type StandIn } from './stand-in.js';

/** Any device of which there is a map: it has those registers, holds what is written to them, and loses as many answers as it is said to. */
export class ByItsMap implements StandIn {
  readonly bank = new RegisterBank({});
  private readonly comesThrough = lossyLink(3);
  private lossPercent = 0;

  takeSettings({ lossPercent }: Device, extents: Extents): void {
    this.lossPercent = lossPercent;
    this.bank.reshape(extents);
  }

  step(): void {
    // Nothing moves by itself.
  }

  answers(): boolean {
    return this.comesThrough(this.lossPercent / 100);
  }
}
