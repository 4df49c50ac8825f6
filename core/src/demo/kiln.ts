import type { Device, Point } from '../model/index.js';
import { named, point, route, slow, tenths } from './make.js';
import { plant } from './site.js';

/** The kiln: its bus, its controller, and what is carried between them. */
const airTemperature = point(plant.airOn, {
  name: 'Air-on temperature',
  table: 'input',
  offset: 10,
  type: 'float32',
  order: 'CDAB',
  unit: '°C',
});
const airHumidity = point(plant.airOn, { name: 'Air-on humidity', table: 'input', offset: 12, type: 'float32', order: 'CDAB', unit: '%' });
const airMean = point(plant.airOn, { name: 'Mean temperature', table: 'input', offset: 20, type: 'float32', order: 'CDAB', unit: '°C' });
const airFault = point(plant.airOn, { name: 'Sensor fault', table: 'discrete', offset: 2, type: 'bit' });
const airSerial = point(plant.airOn, { name: 'Serial number', table: 'input', offset: 100, type: 'uint32', order: 'CDAB' });

export const damperTarget = point(plant.damper, {
  name: 'Set point',
  table: 'holding',
  offset: 0,
  type: 'uint16',
  scale: tenths,
  unit: '%',
});
const damperPosition = point(plant.damper, { name: 'Position', table: 'input', offset: 0, type: 'uint16', scale: tenths, unit: '%' });
const damperOpen = point(plant.damper, { name: 'End position open', table: 'discrete', offset: 0, type: 'bit' });
const damperClosed = point(plant.damper, { name: 'End position closed', table: 'discrete', offset: 1, type: 'bit' });

function setting(offset: number, wanted: string) {
  return { table: 'holding', offset, type: 'uint16', setting: { wanted } } as const;
}

function fanPoints(fan: Device) {
  return {
    command: point(fan, {
      name: 'Command word',
      table: 'holding',
      offset: 0,
      type: 'bits',
      bits: named([0, 'on'], [1, 'run'], [7, 'reset a fault']),
    }),
    target: point(fan, { name: 'Speed set point', table: 'holding', offset: 1, type: 'uint16', scale: tenths, unit: 'Hz' }),
    timeout: point(fan, { name: 'Comms timeout', ...setting(2, '3.0'), scale: tenths, unit: 's' }),
    ramp: point(fan, { name: 'Ramp to top speed', ...setting(4, '9.0'), scale: tenths, unit: 's' }),
    top: point(fan, { name: 'Top speed', ...setting(5, '58.0'), scale: tenths, unit: 'Hz' }),
    pulses: point(fan, { name: 'Pulses per turn', ...setting(6, '1024') }),
    status: point(fan, {
      name: 'Status word',
      table: 'input',
      offset: 0,
      type: 'bits',
      bits: named([0, 'ready'], [1, 'on'], [2, 'running'], [3, 'fault'], [4, 'at set point']),
    }),
    speed: point(fan, { name: 'Actual speed', table: 'input', offset: 1, type: 'uint16', scale: tenths, unit: 'Hz' }),
    current: point(fan, { name: 'Motor current', table: 'input', offset: 2, type: 'uint16', scale: tenths, unit: 'A' }),
    faultCode: point(fan, {
      name: 'Fault code',
      table: 'input',
      offset: 10,
      type: 'uint16',
      codes: [
        { value: 0, name: 'none' },
        { value: 7, name: 'no communication' },
      ],
      note: 'Without a word from its master within the comms timeout it trips with 7.',
    }),
  };
}
const north = fanPoints(plant.fanNorth);
const south = fanPoints(plant.fanSouth);

export const fanStatus = { north: north.status, south: south.status };

export function word(offset: number, name: string, fields: Partial<Point> = {}): Point {
  return point(plant.kilnController, { name, table: 'holding', offset, type: 'uint16', ...fields });
}
export function coil(offset: number, name: string): Point {
  return point(plant.kilnController, { name, table: 'coil', offset, type: 'bit' });
}

const kiln = {
  temperature: word(40, 'Kiln air-on temperature', { type: 'int16', scale: tenths, unit: '°C' }),
  humidity: word(41, 'Kiln air-on humidity', { scale: tenths, unit: '%' }),
  mean: word(42, 'Kiln mean temperature', { type: 'int16', scale: tenths, unit: '°C' }),
  damperPosition: word(44, 'Damper position', { scale: tenths, unit: '%' }),
  serial: word(46, 'Transmitter serial number', { type: 'uint32', order: 'CDAB' }),
  damperTarget: word(50, 'Damper set point', { scale: tenths, unit: '%' }),
  northStatus: word(60, 'Fan north status', { type: 'bits', bits: north.status.bits }),
  northSpeed: word(61, 'Fan north speed', { scale: tenths, unit: 'Hz' }),
  northCurrent: word(62, 'Fan north current', { scale: tenths, unit: 'A' }),
  northFault: word(63, 'Fan north fault code', { codes: north.faultCode.codes }),
  northCommand: word(64, 'Fan north command', { type: 'bits', bits: north.command.bits }),
  northTarget: word(65, 'Fan north set point', { scale: tenths, unit: 'Hz' }),
  southStatus: word(70, 'Fan south status', { type: 'bits', bits: south.status.bits }),
  southSpeed: word(71, 'Fan south speed', { scale: tenths, unit: 'Hz' }),
  southCurrent: word(72, 'Fan south current', { scale: tenths, unit: 'A' }),
  southFault: word(73, 'Fan south fault code', { codes: south.faultCode.codes }),
  southCommand: word(74, 'Fan south command', { type: 'bits', bits: south.command.bits }),
  southTarget: word(75, 'Fan south set point', { scale: tenths, unit: 'Hz' }),
  sensorFault: coil(2, 'Air-on sensor fault'),
  damperOpen: coil(3, 'Damper is open'),
  damperClosed: coil(4, 'Damper is closed'),
};

route('Air-on temperature', airTemperature, kiln.temperature, 'value');
route('Air-on humidity', airHumidity, kiln.humidity, 'value');
route('Mean temperature', airMean, kiln.mean, 'value');
route('Sensor fault', airFault, kiln.sensorFault);
route('Damper position', damperPosition, kiln.damperPosition);
route('Damper open', damperOpen, kiln.damperOpen);
route('Damper closed', damperClosed, kiln.damperClosed);
route('Damper set point', kiln.damperTarget, damperTarget);
route('Fan north status', north.status, kiln.northStatus);
route('Fan north speed', north.speed, kiln.northSpeed);
route('Fan north current', north.current, kiln.northCurrent);
route('Fan north command', kiln.northCommand, north.command);
route('Fan north set point', kiln.northTarget, north.target);
route('Fan south status', south.status, kiln.southStatus);
route('Fan south speed', south.speed, kiln.southSpeed);
route('Fan south current', south.current, kiln.southCurrent);
route('Fan south command', kiln.southCommand, south.command);
route('Fan south set point', kiln.southTarget, south.target);
route('Fan north fault code', north.faultCode, kiln.northFault, 'registers', slow);
route('Fan south fault code', south.faultCode, kiln.southFault, 'registers', slow);
route('Transmitter serial number', airSerial, kiln.serial, 'registers', slow);
