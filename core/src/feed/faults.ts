import * as z from 'zod';
import { Table } from '../address/index.js';

const Percent = z.number('A number.').min(0.1, 'More than 0 %.').max(100, 'At most 100 %.');
const Ms = z.int('A whole number of milliseconds.').min(1, 'At least 1 ms.').max(60_000, 'At most 60 000 ms.');
const Offset = z.int('A whole number.').min(0, 'Offsets start at 0.').max(65_535, 'A table ends at offset 65535.');

/** What a stand-in can be made to do wrong, on purpose. One of each kind at a time. */
export const Fault = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('silent') }),
  z.strictObject({ kind: z.literal('slow'), ms: Ms, spreadMs: z.int().min(0, 'Not below 0.').max(60_000, 'At most 60 000 ms.') }),
  z.strictObject({ kind: z.literal('lost'), percent: Percent }),
  z.strictObject({ kind: z.literal('damaged'), percent: Percent }),
  z.strictObject({ kind: z.literal('wrong unit') }),
  z.strictObject({ kind: z.literal('late'), ms: Ms }),
  z.strictObject({ kind: z.literal('cut short') }),
  z.strictObject({ kind: z.literal('twice') }),
  z.strictObject({
    kind: z.literal('exception'),
    code: z.int('A whole number.').min(1, 'Exceptions start at 1.').max(11, 'Exceptions end at 11.'),
    table: Table,
    first: Offset,
    last: Offset,
  }),
  z.strictObject({ kind: z.literal('frozen') }),
  z.strictObject({ kind: z.literal('half-open') }),
  z.strictObject({ kind: z.literal('one at a time') }),
  z.strictObject({ kind: z.literal('takes nothing') }),
  z.strictObject({
    kind: z.literal('link cut'),
    everyS: z.int('A whole number of seconds.').min(1, 'At least 1 s.').max(3600, 'At most an hour.'),
  }),
  z.strictObject({ kind: z.literal('confirms lost'), percent: Percent }),
  z.strictObject({ kind: z.literal('number skipped'), percent: Percent }),
  z.strictObject({
    kind: z.literal('clock off'),
    minutes: z.int('A whole number of minutes.').min(-1440, 'At most a day.').max(1440, 'At most a day.'),
  }),
]);
export type Fault = z.infer<typeof Fault>;
export type FaultKind = Fault['kind'];

export const Faults = z
  .array(Fault)
  .max(17)
  .refine((faults) => new Set(faults.map(({ kind }) => kind)).size === faults.length, 'One fault of a kind at a time.');

/** Each kind as it begins, in the order in which they are offered. */
export const blankFaults: { readonly [K in FaultKind]: Extract<Fault, { kind: K }> } = {
  silent: { kind: 'silent' },
  slow: { kind: 'slow', ms: 200, spreadMs: 50 },
  lost: { kind: 'lost', percent: 20 },
  damaged: { kind: 'damaged', percent: 20 },
  'wrong unit': { kind: 'wrong unit' },
  late: { kind: 'late', ms: 1500 },
  'cut short': { kind: 'cut short' },
  twice: { kind: 'twice' },
  exception: { kind: 'exception', code: 2, table: 'holding', first: 0, last: 65_535 },
  frozen: { kind: 'frozen' },
  'half-open': { kind: 'half-open' },
  'one at a time': { kind: 'one at a time' },
  'takes nothing': { kind: 'takes nothing' },
  'link cut': { kind: 'link cut', everyS: 15 },
  'confirms lost': { kind: 'confirms lost', percent: 50 },
  'number skipped': { kind: 'number skipped', percent: 5 },
  'clock off': { kind: 'clock off', minutes: 60 },
};

/** What only some of them can have; each of the others, any. */
const onlyOf: Partial<Record<FaultKind, readonly Speech[]>> = {
  damaged: ['modbus', 'text', 'can'],
  late: ['modbus', 'text', 'can'],
  'takes nothing': ['text'],
  'cut short': ['modbus', 'text', 'can'],
  'wrong unit': ['modbus', 'telecontrol', 'can'],
  exception: ['modbus'],
  frozen: ['modbus'],
  'half-open': ['modbus'],
  'one at a time': ['modbus'],
  'link cut': ['telecontrol'],
  'confirms lost': ['telecontrol'],
  'number skipped': ['telecontrol'],
  'clock off': ['telecontrol'],
};
/** What a device speaks. */
export type Speech = 'modbus' | 'text' | 'can' | 'cyclic' | 'telecontrol';

/** The faults that a device can have by what it speaks. */
export function faultsWhere(speaks: readonly Speech[]): FaultKind[] {
  const kinds = Object.keys(blankFaults) as FaultKind[];
  return kinds.filter((kind) => onlyOf[kind]?.some((one) => speaks.includes(one)) ?? true);
}

/** A fault in words, as it is shown where it is in force. */
export function describeFault(fault: Fault): string {
  switch (fault.kind) {
    case 'silent':
      return 'does not answer';
    case 'slow':
      return `answers ${fault.ms}${fault.spreadMs ? ` ± ${fault.spreadMs}` : ''} ms later`;
    case 'lost':
      return `loses ${fault.percent} % of its answers`;
    case 'damaged':
      return `damages ${fault.percent} % of its answers`;
    case 'wrong unit':
      return 'answers as another unit';
    case 'late':
      return `answers after ${fault.ms} ms, when nobody waits`;
    case 'cut short':
      return 'stops in the middle of its answers';
    case 'twice':
      return 'is there twice, and both answer';
    case 'exception':
      return `refuses ${fault.table} ${fault.first} to ${fault.last} with exception ${fault.code}`;
    case 'frozen':
      return 'answers the same values for ever';
    case 'half-open':
      return 'has let its connections die without closing them';
    case 'one at a time':
      return 'takes one question at a time, and drops what comes meanwhile';
    case 'takes nothing':
      return 'takes no text: its buffer is full';
    case 'link cut':
      return `its link is cut every ${fault.everyS} s`;
    case 'confirms lost':
      return `${fault.percent} % of its confirmations are lost`;
    case 'number skipped':
      return `skips the number of ${fault.percent} % of its frames`;
    case 'clock off':
      return `its clock is ${Math.abs(fault.minutes)} min ${fault.minutes < 0 ? 'behind' : 'ahead'}`;
  }
}
