import { AirOnTransmitter } from './air-on-transmitter.js';
import { ExhaustDamper } from './exhaust-damper.js';
import { FanDrive } from './fan-drive.js';
import { KilnController } from './kiln-controller.js';
import type { StandIn } from './stand-in.js';

export { type StandIn } from './stand-in.js';

/** Every kind of stand-in by the name that a device in a project calls it. */
export const kinds: Readonly<Record<string, () => StandIn>> = {
  'kiln-controller': () => new KilnController(),
  'fan-drive': () => new FanDrive(),
  'air-on-transmitter': () => new AirOnTransmitter(),
  'exhaust-damper': () => new ExhaustDamper(),
};
