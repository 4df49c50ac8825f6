import type { Point } from '../model/index.js';
import { coil, fanStatus, damperTarget, word } from './kiln.js';
import { amps, exported, floorPoints, frequency, turnerSpeed, volts } from './maps.js';
import { calm, point, route, slow, steady, tenths } from './make.js';
import { burner, floor, grain, loft, meter } from './plant.js';
import { plant } from './site.js';
import type { Transform } from '../steps/index.js';

/** What the kiln controller collects beside what it needs to run, and what else is carried. */
const celsius = { type: 'int16', scale: tenths, unit: '°C' } as const;
const bit = (at: number): Transform[] => [{ kind: 'extract', at, count: 1 }];

grain.forEach(([, middle, end], index) => {
  const name = `Grain ${index + 1}`;
  route(`${name} middle`, middle!, word(140 + 2 * index, `${name} middle temperature`, celsius), 'registers', calm);
  route(`${name} end`, end!, word(141 + 2 * index, `${name} end temperature`, celsius), 'registers', calm);
});

/** The meter's floats arrive in whole steps that a register of the controller holds. */
function metered(source: Point, offset: number, name: string, factor: number): void {
  route(name, source, word(offset, name, { type: 'int16', scale: { factor, offset: 0 }, unit: source.unit }), 'value', calm);
}
volts.forEach((source, index) => metered(source, 160 + index, `Plant voltage L${index + 1}`, 0.1));
amps.forEach((source, index) => metered(source, 163 + index, `Plant current L${index + 1}`, 0.1));
metered(frequency, 166, 'Plant frequency', 0.01);
metered(meter.factor, 167, 'Plant power factor', 0.001);
route('Plant exported energy', exported, word(168, 'Plant exported energy', { type: 'uint32', unit: 'kWh' }), 'value', calm);

floorPoints
  .filter(({ bit: place }) => place === null)
  .forEach((source, index) => {
    const { name, type, scale, unit } = source;
    route(name, source, word(180 + index, name, { type, scale, unit }), 'registers', slow);
  });
floorPoints
  .filter(({ bit: place }) => place !== null)
  .forEach((source, index) => route(source.name, source, coil(30 + index, source.name), 'value', slow));
route('Turner speed', turnerSpeed, word(188, 'Turner speed', { scale: tenths, unit: 'm/min' }), 'registers', steady);
route('Spray valves', word(186, 'Spray valves', { type: 'bits' }), floor.sprays, 'registers', slow);

route('Loft temperature', loft.temperature, word(131, 'Loft temperature', celsius), 'registers', calm);
route('Humidity limit', word(132, 'Humidity limit', { scale: tenths, unit: '%' }), loft.limit, 'registers', calm);

route('Fan north runs', fanStatus.north, coil(40, 'Fan north runs'), 'value', undefined, { transforms: bit(2) });
route('Fan south runs', fanStatus.south, coil(41, 'Fan south runs'), 'value', undefined, { transforms: bit(2) });
route('Burner burns', burner.status, coil(42, 'Burner burns'), 'value', steady, { transforms: bit(1) });

/** The steeps move the damper as well, which the kiln does already. */
const wish = point(plant.steepController, { name: 'Damper wish', table: 'holding', offset: 130, type: 'uint16', scale: tenths, unit: '%' });
route('Damper for the steeps', wish, damperTarget, 'registers', slow, { carrierId: plant.steepController.id });
