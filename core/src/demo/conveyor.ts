import type { Point } from '../model/index.js';
import type { FarPlace } from '../place/index.js';
import { coil, word } from './kiln.js';
import { celsius, named, point, route, steady, tenths } from './make.js';
import { plant } from './site.js';

/** What the conveyor of the malt silo exchanges over its cyclic link, where the kiln controller keeps it, and where its program has it. */
type Block = Extract<FarPlace, { kind: 'cyclic' }>;
const at = (block: Block['block'], byte: number, bits: number): Block => ({
  ...{ kind: 'cyclic', block, byte, bit: 0, bits, order: 'little', pinned: false },
});
type Fields = Omit<Parameters<typeof point>[1], 'table' | 'place' | 'type'> & { type?: Point['type'] };
const kept = (place: FarPlace, fields: Fields): Point =>
  point(plant.conveyor, { table: 'holding', type: 'uint16', place, access: 'read', ...fields });
const said = (byte: number, bits: number, fields: Fields) => kept(at('input', byte, bits), fields);
const taken = (byte: number, bits: number, fields: Fields) => kept(at('output', byte, bits), { ...fields, access: 'readWrite' });

const status = { type: 'bits', bits: named([0, 'ready'], [1, 'running'], [2, 'belt slips'], [3, 'blocked']) } as const;
const speed = { type: 'int16', scale: { factor: 0.01, offset: 0 }, unit: 'm/s' } as const;
const carried = { type: 'uint32', unit: 'kg' } as const;
const conveyor = {
  status: said(0, 8, { name: 'Conveyor status', offset: 400, ...status }),
  speed: said(2, 16, { name: 'Belt speed', offset: 401, ...speed }),
  current: said(4, 16, { name: 'Motor current', offset: 402, scale: tenths, unit: 'A' }),
  temperature: said(6, 16, { name: 'Drive temperature', offset: 403, ...celsius }),
  carried: said(8, 32, { name: 'Carried', offset: 404, ...carried }),
  echo: said(12, 16, { name: 'Number back', offset: 406, note: 'The number that came, and one.' }),
  valid: kept({ kind: 'linkState', state: 'valid', pinned: false }, { name: 'Link is valid', offset: 407, bit: 0, type: 'bit' }),
  missed: kept({ kind: 'linkState', state: 'missed', pinned: false }, { name: 'Updates missed', offset: 408 }),
  outputsValid: taken(0, 8, { name: 'Outputs are valid', offset: 420, note: '1 while the kiln controller answers for them.' }),
  command: taken(1, 8, { name: 'Conveyor command', offset: 421, type: 'bits', bits: named([0, 'run'], [1, 'reset']) }),
  wanted: taken(2, 16, { name: 'Belt speed wanted', offset: 422, ...speed }),
  number: taken(4, 16, { name: 'Number', offset: 423 }),
};

route('Conveyor status', conveyor.status, word(250, 'Conveyor status', status), 'registers', steady);
route('Belt speed', conveyor.speed, word(251, 'Belt speed', speed), 'registers', steady);
route('Malt carried', conveyor.carried, word(252, 'Malt carried', carried), 'registers', steady);
route('Conveyor number back', conveyor.echo, word(254, 'Conveyor number back'), 'registers', steady);
route('Conveyor link is valid', conveyor.valid, coil(54, 'Conveyor link is valid'), 'value', steady);
route('Conveyor outputs are valid', word(255, 'Conveyor outputs are valid'), conveyor.outputsValid, 'registers', steady);
const command = { type: 'bits', bits: named([0, 'run'], [1, 'reset']) } as const;
route('Conveyor command', word(256, 'Conveyor command', command), conveyor.command, 'registers', steady);
route('Belt speed wanted', word(257, 'Belt speed wanted', speed), conveyor.wanted, 'registers', steady);
route('Conveyor number', word(258, 'Conveyor number'), conveyor.number, 'registers', steady);
