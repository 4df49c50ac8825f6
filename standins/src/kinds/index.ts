import { AirOnTransmitter } from './air-on-transmitter.js';
import { BY_ITS_MAP } from '@plain-envoy/core/model';
import { BurnerControl } from './burner-control.js';
import { ByItsMap } from './by-its-map.js';
import { Converter } from './converter.js';
import { ExhaustDamper } from './exhaust-damper.js';
import { FanDrive } from './fan-drive.js';
import { FloorIo } from './floor-io.js';
import { GrainCable } from './grain-cable.js';
import { HumidityBridge } from './humidity-bridge.js';
import { KilnController } from './kiln-controller.js';
import { PlantMeter } from './plant-meter.js';
import { SteepController } from './steep-controller.js';
import type { StandIn } from './stand-in.js';
import { YardDisplay } from './yard-display.js';

export { type StandIn } from './stand-in.js';

/** Every kind of stand-in by the name that a device in a project calls it. */
export const kinds: Readonly<Record<string, () => StandIn>> = {
  'kiln-controller': () => new KilnController(),
  'steep-controller': () => new SteepController(),
  'burner-control': () => new BurnerControl(),
  'floor-io': () => new FloorIo(),
  'fan-drive': () => new FanDrive(),
  'air-on-transmitter': () => new AirOnTransmitter(),
  'exhaust-damper': () => new ExhaustDamper(),
  'plant-meter': () => new PlantMeter(),
  'grain-cable': () => new GrainCable(),
  'humidity-bridge': () => new HumidityBridge(),
  'yard-display': () => new YardDisplay(),
  converter: () => new Converter(),
  [BY_ITS_MAP]: () => new ByItsMap(),
};
