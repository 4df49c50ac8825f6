import type { DeviceFrame, Point } from '../model/index.js';
import { coil, word } from './kiln.js';
import { nextId, projectId } from './ids.js';
import { celsius, named, point, route, steady } from './make.js';
import { plant } from './site.js';

/** What the floor turner says and takes on its CAN, where its converter has it, and how it gets to the kiln controller. */
const ofTurner = { projectId, deviceId: plant.turner.id, identifierBits: 29, fill: '', whole: null } as const;
const position: DeviceFrame = {
  ...ofTurner,
  ...{ id: nextId(), name: 'Position', note: '', direction: 'sent', identifier: 0x18a0_1003, bytes: 8 },
  when: { on: 'period', periodMs: 100 },
  lostAfterMs: 500,
};
const alive: DeviceFrame = {
  ...ofTurner,
  ...{ id: nextId(), name: 'Alive', note: 'The life sign of its drive.', direction: 'sent', identifier: 0x18a0_7f03, bytes: 1 },
  when: { on: 'period', periodMs: 1000 },
  lostAfterMs: 3000,
};
const drive: DeviceFrame = {
  ...ofTurner,
  ...{ id: nextId(), name: 'Drive', note: '', direction: 'taken', identifier: 0x18a0_2003, bytes: 4 },
  when: { on: 'change', atLeastMs: 200 },
  lostAfterMs: 1000,
};
export const frames = [position, alive, drive];

const bits = ({ id: frameId }: DeviceFrame, firstBit: number, count: number) =>
  ({ kind: 'signal', frameId, firstBit, bits: count, order: 'little', pinned: false }) as const;
const valid = ({ id: frameId }: DeviceFrame) => ({ kind: 'frameState', frameId, state: 'valid', pinned: false }) as const;
const said = (fields: Omit<Parameters<typeof point>[1], 'table'>): Point =>
  point(plant.turner, { table: 'input', ...fields } as Parameters<typeof point>[1]);
const taken = (fields: Omit<Parameters<typeof point>[1], 'table'>): Point =>
  point(plant.turner, { table: 'holding', ...fields } as Parameters<typeof point>[1]);

const millimetres = { scale: { factor: 0.001, offset: 0 }, unit: 'm' };
const status = { type: 'bits', bits: named([0, 'ready'], [1, 'moving'], [2, 'at an end']) } as const;
const driven = { scale: { factor: 0.01, offset: 0 }, unit: 'm/min' };
const turner = {
  at: said({ name: 'Position', offset: 0, type: 'uint32', ...millimetres, place: bits(position, 0, 32) }),
  temperature: said({ name: 'Drive temperature', offset: 2, ...celsius, place: bits(position, 32, 16) }),
  status: said({ name: 'Turner status', offset: 3, ...status, place: bits(position, 48, 8) }),
  sequence: said({ name: 'Sequence', offset: 4, type: 'uint16', place: bits(position, 56, 8) }),
  valid: said({ name: 'Position is valid', offset: 5, bit: 0, type: 'bit', place: valid(position) }),
  alive: said({ name: 'Drive lives', offset: 5, bit: 1, type: 'bit', place: valid(alive) }),
  wanted: taken({ name: 'Speed wanted', offset: 0, type: 'int16', ...driven, place: bits(drive, 0, 16) }),
  release: taken({ name: 'Release', offset: 1, type: 'uint16', place: bits(drive, 16, 8) }),
  beat: taken({ name: 'Sequence wanted', offset: 2, type: 'uint16', watchdogMs: 3000, place: bits(drive, 24, 8) }),
};

route('Turner drive position', turner.at, word(240, 'Turner drive position', { type: 'uint32', ...millimetres }), 'registers', steady);
route('Turner status', turner.status, word(242, 'Turner status', status), 'registers', steady);
route('Turner position is valid', turner.valid, coil(52, 'Turner position is valid'), 'value', steady);
route('Turner drive lives', turner.alive, coil(53, 'Turner drive lives'), 'value', steady);
route('Turner speed wanted', word(243, 'Turner speed wanted', { type: 'int16', ...driven }), turner.wanted, 'registers', steady);
route('Turner sequence', word(245, 'Turner sequence wanted'), turner.beat, 'registers', steady);
route('Turner release', word(244, 'Turner release'), turner.release, 'registers', steady);
