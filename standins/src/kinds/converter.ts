import { RegisterBank } from '@plain-envoy/engine/server';
import type { StandIn } from './stand-in.js';

/** A converter whose other side is quiet: its image can be read and written, and nothing moves in it by itself. */
export class Converter implements StandIn {
  readonly bank = new RegisterBank({ input: 64, holding: 64 });

  step(): void {
    return;
  }
}
