import type { Point } from '../model/index.js';
import { celsius, calm, point, route, slow, tenths } from './make.js';
import { word } from './kiln.js';
import { plant } from './site.js';

/** What the papers of the devices list beside what is floorPoints: the rest of their register maps. */
const percent = { type: 'uint16', scale: tenths, unit: '%' } as const;

/** What the floors report beside their air, floor by floor: malt, humidity, door, spray. */
export const floorPoints: Point[] = [];
[1, 2, 3].forEach((number, index) => {
  const name = `Floor ${number}`;
  floorPoints.push(
    point(plant.floor, { name: `${name} malt temperature`, table: 'input', offset: index * 8 + 1, ...celsius }),
    point(plant.floor, { name: `${name} humidity`, table: 'input', offset: index * 8 + 2, ...percent }),
    point(plant.floor, { name: `${name} door is closed`, table: 'input', offset: 87, bit: index, type: 'bit' }),
    point(plant.floor, { name: `${name} spray flows`, table: 'input', offset: 87, bit: 8 + index, type: 'bit' }),
  );
});
export const turnerSpeed = point(plant.floor, {
  name: 'Turner speed',
  table: 'input',
  offset: 31,
  type: 'uint16',
  scale: tenths,
  unit: 'm/min',
});

const phases = ['L1', 'L2', 'L3'];
const readOnly = { access: 'read' } as const;
export const volts: Point[] = [];
export const amps: Point[] = [];
phases.forEach((phase, index) => {
  volts.push(
    point(plant.meter, { name: `Voltage ${phase}`, table: 'holding', offset: 7416 + 4 * index, type: 'float32', unit: 'V', ...readOnly }),
  );
  amps.push(
    point(plant.meter, { name: `Current ${phase}`, table: 'holding', offset: 7418 + 4 * index, type: 'float32', unit: 'A', ...readOnly }),
  );
});
export const frequency = point(plant.meter, {
  name: 'Frequency',
  table: 'holding',
  offset: 7396,
  type: 'float32',
  unit: 'Hz',
  ...readOnly,
});
export const exported = point(plant.meter, {
  name: 'Exported energy',
  table: 'holding',
  offset: 8122,
  type: 'uint32',
  order: 'BADC',
  unit: 'kWh',
  ...readOnly,
});
const reactive = point(plant.meter, {
  name: 'Reactive energy',
  table: 'holding',
  offset: 8141,
  type: 'uint32',
  unit: 'kvarh',
  ...readOnly,
});
route('Plant reactive energy', reactive, word(114, 'Plant reactive energy', { type: 'uint32', unit: 'kvarh' }), 'value', calm);

const shown = { type: 'string', length: 16, encoding: 'ascii' } as const;
route(
  'Text on the yard display',
  point(plant.display, { name: 'Reply', table: 'holding', offset: 110, ...shown }),
  word(220, 'Shown on the yard display', shown),
  'registers',
  slow,
);
