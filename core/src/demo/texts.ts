import type { DeviceTelegram, Point } from '../model/index.js';
import type { FarPlace } from '../place/index.js';
import { coil, word } from './kiln.js';
import { nextId, projectId } from './ids.js';
import { point, route, slow, tenths } from './make.js';
import { plant } from './site.js';

/** What weigh indicator and moisture analyser send, where the text port has it, and how it gets into the batch record. */
const weighing: DeviceTelegram = {
  ...{ id: nextId(), projectId, deviceId: plant.indicator.id, name: 'Weighing', note: 'M while it moves, S once it is at rest.' },
  direction: 'sent',
  telegram: {
    end: ['0D'],
    encoding: 'ascii',
    fields: [
      { name: 'number', at: { separator: ';', number: 0 }, kind: 'integer', pad: 'left', padWith: '0' },
      { name: 'gross', at: { separator: ';', number: 1 }, kind: 'integer' },
      { name: 'status', at: { separator: ';', number: 2 }, kind: 'code', codes: { S: 'at rest', M: 'moving' } },
      {
        name: 'check',
        at: { separator: ';', number: 3 },
        kind: 'checksum',
        checksum: { kind: 'xor8', from: 0, to: -4, written: 'hex' },
      },
    ],
  },
  when: { on: 'period', periodMs: 500 },
  ...{ lostAfterMs: 2000, timeoutMs: 1000, tries: 2 },
  samples: '0042;+018405;S;76<CR>\n0042;+017155;M;67<CR>\n0043;+000000;S;7F<CR>',
};
const sample: DeviceTelegram = {
  ...{ id: nextId(), projectId, deviceId: plant.analyser.id, name: 'Sample', note: 'Without an end mark.' },
  direction: 'sent',
  telegram: {
    length: 24,
    encoding: 'ascii',
    fields: [
      { name: 'head', at: { from: 0, length: 2 }, kind: 'code', codes: { MO: 'sample' } },
      { name: 'number', at: { from: 2, length: 4 }, kind: 'counter', padWith: '0' },
      { name: 'moisture', at: { from: 7, length: 5 }, kind: 'decimal' },
      { name: 'temperature', at: { from: 16, length: 5 }, kind: 'decimal' },
    ],
  },
  when: { on: 'period', periodMs: 4000 },
  ...{ lostAfterMs: 10_000, timeoutMs: 1000, tries: 2 },
  samples: 'MO0001 04.30% T 061.5C  \nMO0002 04.33% T 061.4C  ',
};
export const telegrams = [weighing, sample];

type State = Extract<FarPlace, { kind: 'telegramState' }>['state'];
const fieldOf = ({ id: telegramId }: DeviceTelegram, field: string) => ({ kind: 'field', telegramId, field, pinned: false }) as const;
const stateOf = ({ id: telegramId }: DeviceTelegram, state: State) =>
  ({ kind: 'telegramState', telegramId, state, pinned: false }) as const;
const status = {
  codes: [
    { value: 0, name: 'moving' },
    { value: 1, name: 'at rest' },
  ],
};

const sent = (telegram: DeviceTelegram, fields: Omit<Parameters<typeof point>[1], 'table'>): Point =>
  point(telegram === weighing ? plant.indicator : plant.analyser, { table: 'input', ...fields } as Parameters<typeof point>[1]);

const weight = {
  number: sent(weighing, { name: 'Weighing number', offset: 0, type: 'uint16', place: fieldOf(weighing, 'number') }),
  gross: sent(weighing, { name: 'Gross weight', offset: 1, type: 'int32', unit: 'kg', place: fieldOf(weighing, 'gross') }),
  status: sent(weighing, { name: 'Weighing status', offset: 3, type: 'uint16', ...status, place: fieldOf(weighing, 'status') }),
  valid: sent(weighing, { name: 'Weighing is valid', offset: 4, bit: 0, type: 'bit', place: stateOf(weighing, 'valid') }),
  damaged: sent(weighing, { name: 'Weighings damaged', offset: 6, type: 'uint32', place: stateOf(weighing, 'damaged') }),
};
const malt = {
  moisture: sent(sample, {
    ...{ name: 'Moisture', offset: 20, type: 'uint16', unit: '%' },
    ...{ scale: { factor: 0.01, offset: 0 }, place: fieldOf(sample, 'moisture') },
  }),
  temperature: sent(sample, {
    ...{ name: 'Sample temperature', offset: 21, type: 'int16', unit: '°C' },
    ...{ scale: tenths, place: fieldOf(sample, 'temperature') },
  }),
  number: sent(sample, { name: 'Sample number', offset: 22, type: 'uint16', place: fieldOf(sample, 'number') }),
  valid: sent(sample, { name: 'Moisture is valid', offset: 23, bit: 0, type: 'bit', place: stateOf(sample, 'valid') }),
};

const onChange = { trigger: { on: 'change', deadband: 0 } } as const;
/** A sample comes every four seconds. */
const onSample = { ...onChange, maxAgeMs: 15_000 };
route('Weighing number', weight.number, word(200, 'Batch weighing number'), 'registers', slow, onChange);
route('Gross weight', weight.gross, word(202, 'Batch gross weight', { type: 'int32', unit: 'kg' }), 'registers', slow, onChange);
route('Weighing status', weight.status, word(204, 'Batch weighing status', status), 'registers', slow, onChange);
route('Weight is valid', weight.valid, coil(50, 'Batch weight is valid'), 'value', slow, onChange);
route(
  'Moisture',
  malt.moisture,
  word(206, 'Batch moisture', { scale: { factor: 0.01, offset: 0 }, unit: '%' }),
  'registers',
  slow,
  onSample,
);
route(
  'Sample temperature',
  malt.temperature,
  word(207, 'Batch sample temperature', { type: 'int16', scale: tenths, unit: '°C' }),
  'registers',
  slow,
  onSample,
);
route('Moisture is valid', malt.valid, coil(51, 'Batch moisture is valid'), 'value', slow, onChange);
route('Weighings damaged', weight.damaged, word(208, 'Weighings damaged', { type: 'uint32' }), 'registers', slow, onChange);
route('Sample number', malt.number, word(210, 'Batch sample number'), 'registers', slow, onSample);
