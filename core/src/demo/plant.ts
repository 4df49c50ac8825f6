import type { Point } from '../model/index.js';
import { celsius, calm, named, point, route, slow, steady, tenths } from './make.js';
import { coil, word } from './kiln.js';
import { plant } from './site.js';

/** What surrounds the kiln: steeps, burner, germination floors, energy, grain temperatures, and the yard. */
const lowFirst = { order: 'CDAB' } as const;

export const steep = {
  batch: point(plant.steepController, { name: 'Batch number', table: 'holding', offset: 100, type: 'uint32', ...lowFirst }),
  water: point(plant.steepController, { name: 'Steep water temperature', table: 'holding', offset: 102, ...celsius }),
  beat: point(plant.steepController, { name: 'Heartbeat out', table: 'holding', offset: 110, type: 'uint16' }),
  kilnBeat: point(plant.steepController, { name: 'Heartbeat in', table: 'holding', offset: 121, type: 'uint16', watchdogMs: 4000 }),
  kilnState: point(plant.steepController, {
    name: 'Kiln state',
    table: 'holding',
    offset: 120,
    type: 'uint16',
    codes: [
      { value: 0, name: 'idle' },
      { value: 1, name: 'fans start' },
      { value: 2, name: 'drying' },
    ],
  }),
  ready: point(plant.steepController, { name: 'Batch ready', table: 'coil', offset: 10, type: 'bit' }),
  call: point(plant.steepController, { name: 'Call for batch', table: 'coil', offset: 20, type: 'bit' }),
  kilnIsThere: point(plant.steepController, { name: 'Kiln controller is there', table: 'coil', offset: 21, type: 'bit' }),
};

const release = point(plant.burner, {
  name: 'Release word',
  table: 'holding',
  offset: 0,
  type: 'uint16',
  note: '1 releases the command word.',
});

export const burner = {
  release,
  target: point(plant.burner, { name: 'Air set point', table: 'holding', offset: 1, ...celsius }),
  command: point(plant.burner, {
    name: 'Command word',
    table: 'holding',
    offset: 2,
    type: 'bits',
    bits: named([0, 'burn'], [7, 'reset a trip']),
    releasedBy: release.id,
  }),
  status: point(plant.burner, {
    name: 'Status word',
    table: 'input',
    offset: 0,
    type: 'bits',
    bits: named([0, 'released'], [1, 'burning'], [3, 'tripped']),
  }),
  flame: point(plant.burner, { name: 'Flue temperature', table: 'input', offset: 1, ...celsius }),
};

export const floor = {
  air: [1, 2, 3].map((number, index) =>
    point(plant.floor, { name: `Floor ${number} air temperature`, table: 'input', offset: index * 8, ...celsius }),
  ),
  turnerAt: point(plant.floor, { name: 'Turner position', table: 'input', offset: 30, type: 'uint16', scale: tenths, unit: 'm' }),
  doors: point(plant.floor, {
    name: 'Doors and sprays',
    table: 'input',
    offset: 87,
    type: 'bits',
    bits: named([0, 'door 1 closed'], [1, 'door 2 closed'], [2, 'door 3 closed'], [8, 'spray 1'], [9, 'spray 2'], [10, 'spray 3']),
  }),
  fan: point(plant.floor, { name: 'Floor fan speed', table: 'holding', offset: 600, type: 'uint16', scale: tenths, unit: '%' }),
  sprays: point(plant.floor, { name: 'Spray valves', table: 'holding', offset: 641, type: 'bits' }),
};

export const meter = {
  power: point(plant.meter, { name: 'Active power', table: 'holding', offset: 7440, type: 'float32', unit: 'kW', access: 'read' }),
  factor: point(plant.meter, { name: 'Power factor', table: 'holding', offset: 7460, type: 'float32', access: 'read' }),
  energy: point(plant.meter, {
    name: 'Active energy',
    table: 'holding',
    offset: 8120,
    type: 'uint32',
    order: 'BADC',
    unit: 'kWh',
    access: 'read',
  }),
};

export const grain = plant.grain.map((cable) =>
  [1, 12, 24].map((number) => point(cable, { name: `Temperature ${number}`, table: 'input', offset: number - 1, ...celsius })),
);
export const loft = {
  humidity: point(plant.humidity, { name: 'Loft humidity', table: 'holding', offset: 0, type: 'uint16', scale: tenths, unit: '%' }),
  temperature: point(plant.humidity, { name: 'Loft temperature', table: 'holding', offset: 1, ...celsius }),
  limit: point(plant.humidity, { name: 'Humidity limit', table: 'holding', offset: 8, type: 'uint16', scale: tenths, unit: '%' }),
};
point(plant.display, { name: 'Status word', table: 'holding', offset: 100, type: 'bits', bits: named([0, 'ready']) });
point(plant.display, { name: 'Text', table: 'holding', offset: 0, type: 'string', length: 16, encoding: 'ascii' });

const kiln = {
  batch: word(80, 'Batch number', { type: 'uint32' }),
  water: word(82, 'Steep water temperature', celsius),
  steepBeat: word(83, 'Steep heartbeat', { watchdogMs: 5000 }),
  beat: word(84, 'Kiln heartbeat'),
  state: word(85, 'Kiln state', { codes: steep.kilnState.codes }),
  batchReady: coil(10, 'Batch is ready'),
  call: coil(11, 'Call for batch'),
  steepIsThere: coil(12, 'Steep controller is there'),
  release: word(90, 'Burner release'),
  burnerTarget: word(91, 'Burner set point', celsius),
  burnerCommand: word(92, 'Burner command', { type: 'bits', bits: burner.command.bits }),
  burnerStatus: word(93, 'Burner status', { type: 'bits', bits: burner.status.bits }),
  flue: word(94, 'Flue temperature', celsius),
  floorAir: [1, 2, 3].map((number, index) => word(100 + index, `Floor ${number} air temperature`, celsius)),
  turnerAt: word(103, 'Turner position', { scale: tenths, unit: 'm' }),
  doors: word(104, 'Floor doors and sprays', { type: 'bits', bits: floor.doors.bits }),
  floorFan: word(105, 'Floor fan speed', { scale: tenths, unit: '%' }),
  power: word(110, 'Plant power', { scale: tenths, unit: 'kW' }),
  energy: word(112, 'Plant energy', { type: 'uint32', unit: 'kWh' }),
  grain: plant.grain.map((_, index) => word(120 + index, `Grain ${index + 1} temperature`, celsius)),
  loftHumidity: word(130, 'Loft humidity', { scale: tenths, unit: '%' }),
};

/** A heartbeat that stands still for so long is lost, and its bit goes off. */
const watched = (good: Point, stillMs: number) => ({ rule: 'invalid' as const, value: null, validId: good.id, afterMs: stillMs, stillMs });

route('Batch number', steep.batch, kiln.batch, 'value', slow);
route('Steep water temperature', steep.water, kiln.water, 'registers', slow);
route('Batch ready', steep.ready, kiln.batchReady, 'registers', slow);
route('Steep heartbeat', steep.beat, kiln.steepBeat, 'registers', steady, { loss: watched(kiln.steepIsThere, 5000) });
route('Kiln heartbeat', kiln.beat, steep.kilnBeat, 'registers', steady, { loss: watched(steep.kilnIsThere, 4000) });
route('Kiln state', kiln.state, steep.kilnState, 'registers', slow);
route('Call for batch', kiln.call, steep.call, 'registers', slow);
route('Burner release', kiln.release, burner.release, 'registers', steady);
route('Burner set point', kiln.burnerTarget, burner.target, 'registers', steady);
route('Burner command', kiln.burnerCommand, burner.command, 'registers', steady);
route('Burner status', burner.status, kiln.burnerStatus, 'registers', steady);
route('Flue temperature', burner.flame, kiln.flue, 'registers', slow);
floor.air.forEach((air, index) => route(air.name, air, kiln.floorAir[index]!, 'registers', slow));
route('Turner position', floor.turnerAt, kiln.turnerAt, 'registers', steady);
route('Floor doors and sprays', floor.doors, kiln.doors, 'registers', slow);
route('Floor fan speed', kiln.floorFan, floor.fan, 'registers', slow);
route('Plant power', meter.power, kiln.power, 'value', calm);
route('Plant energy', meter.energy, kiln.energy, 'value', calm);
grain.forEach(([first], index) => route(`Grain ${index + 1} temperature`, first!, kiln.grain[index]!, 'registers', calm));
route('Loft humidity', loft.humidity, kiln.loftHumidity, 'registers', calm);
