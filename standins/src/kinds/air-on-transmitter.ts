import { encode } from '@plain-envoy/core/value';
import { RegisterBank } from '@plain-envoy/engine/server';
import { noise, type StandIn } from './stand-in.js';

const SERIAL_NUMBER = 204_117;
const MEAN_OVER_MS = 60_000;

/** Temperature and humidity of the air on to the malt: floats, low word first, drifting slowly as a kiln does. */
export class AirOnTransmitter implements StandIn {
  readonly bank = new RegisterBank({ input: 110, discrete: 8 });
  private ageMs = 0;
  private mean = 61.2;
  private readonly jitter = noise(41);

  constructor() {
    this.put(100, SERIAL_NUMBER, 'uint32');
    this.step(0);
  }

  step(ms: number): void {
    this.ageMs += ms;
    const turn = (periodS: number) => Math.sin((this.ageMs / 1000 / periodS) * 2 * Math.PI);
    const temperature = 61.5 + 1.8 * turn(140) + 0.04 * this.jitter();
    const humidity = 48.2 - 2.6 * turn(95) + 0.08 * this.jitter();
    this.mean += ((temperature - this.mean) * ms) / MEAN_OVER_MS;
    this.put(10, temperature, 'float32');
    this.put(12, humidity, 'float32');
    this.put(20, this.mean, 'float32');
  }

  private put(offset: number, value: number, type: 'float32' | 'uint32'): void {
    const words = encode(value, { type, order: 'CDAB' });
    if (words.ok) this.bank.set('input', offset, ...words.value.words);
  }
}
