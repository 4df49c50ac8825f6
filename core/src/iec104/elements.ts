import { readTime, TIME_BYTES, type Time104, writeTime } from './time.js';

/** What an information object holds, by name: numbers, flags, and a time. */
export type Held = Record<string, number | boolean | Time104>;

/** A part of an information object (IEC 60870-5-101, 7.2.6): so many octets, and what they hold. */
export interface Element {
  name: string;
  bytes: number;
  /** What the octets hold; null where they hold nothing that there is. */
  read(bytes: Uint8Array): Held | null;
  write(held: Held): number[];
  /** In a few words, of what was read. */
  tell(held: Held): string;
}

type Flags = readonly (readonly [name: string, bit: number, words: string])[];

const flag = (held: Held, name: string): boolean => held[name] === true;
const number = (held: Held, name: string): number => (typeof held[name] === 'number' ? held[name] : 0);

function readFlags(byte: number, flags: Flags): Held {
  return Object.fromEntries(flags.map(([name, bit]) => [name, ((byte >> bit) & 1) === 1]));
}

function writeFlags(held: Held, flags: Flags): number {
  return flags.reduce((byte, [name, bit]) => byte | (Number(flag(held, name)) << bit), 0);
}

function tellFlags(held: Held, flags: Flags): string {
  const set = flags.filter(([name]) => flag(held, name)).map(([, , words]) => words);
  return set.length ? `, ${set.join(', ')}` : '';
}

const states: Flags = [
  ['blocked', 4, 'blocked'],
  ['substituted', 5, 'substituted'],
  ['notTopical', 6, 'not topical'],
  ['invalid', 7, 'invalid'],
];
const ofMeasured: Flags = [['overflow', 0, 'overflow'], ...states];

const low16 = (value: number): number[] => [value & 0xff, (value >> 8) & 0xff];
const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Single point with quality. */
export const siq: Element = {
  name: 'single point',
  bytes: 1,
  read: ([byte]) => ({ value: byte! & 1, ...readFlags(byte!, states) }),
  write: (held) => [(number(held, 'value') & 1) | writeFlags(held, states)],
  tell: (held) => `${number(held, 'value') ? 'on' : 'off'}${tellFlags(held, states)}`,
};

const doubles = ['in between', 'off', 'on', 'indeterminate'];

/** Double point with quality. */
export const diq: Element = {
  name: 'double point',
  bytes: 1,
  read: ([byte]) => ({ value: byte! & 3, ...readFlags(byte!, states) }),
  write: (held) => [(number(held, 'value') & 3) | writeFlags(held, states)],
  tell: (held) => `${doubles[number(held, 'value') & 3]!}${tellFlags(held, states)}`,
};

/** Quality of a measured value. */
export const qds: Element = {
  name: 'quality',
  bytes: 1,
  read: ([byte]) => readFlags(byte!, ofMeasured),
  write: (held) => [writeFlags(held, ofMeasured)],
  tell: (held) => tellFlags(held, ofMeasured).slice(2) || 'good',
};

/** Normalised: −1 to 1 − 2⁻¹⁵. */
export const nva: Element = {
  name: 'normalised value',
  bytes: 2,
  read: (bytes) => ({ value: view(bytes).getInt16(0, true) / 32_768 }),
  write: (held) => low16(Math.max(-32_768, Math.min(32_767, Math.round(number(held, 'value') * 32_768)))),
  tell: (held) => String(number(held, 'value')),
};

/** Scaled: a whole number with sign. */
export const sva: Element = {
  name: 'scaled value',
  bytes: 2,
  read: (bytes) => ({ value: view(bytes).getInt16(0, true) }),
  write: (held) => low16(Math.max(-32_768, Math.min(32_767, Math.round(number(held, 'value'))))),
  tell: (held) => String(number(held, 'value')),
};

/** IEEE 754 of 32 bits. */
export const r32: Element = {
  name: 'floating-point value',
  bytes: 4,
  read: (bytes) => ({ value: view(bytes).getFloat32(0, true) }),
  write: (held) => {
    const bytes = new Uint8Array(4);
    view(bytes).setFloat32(0, number(held, 'value'), true);
    return [...bytes];
  },
  tell: (held) => String(Number(number(held, 'value').toPrecision(7))),
};

const ofCounter: Flags = [
  ['carry', 5, 'went over its end'],
  ['adjusted', 6, 'was set'],
  ['invalid', 7, 'invalid'],
];

/** Binary counter reading with its sequence. */
export const bcr: Element = {
  name: 'counter',
  bytes: 5,
  read: (bytes) => ({ value: view(bytes).getInt32(0, true), sequence: bytes[4]! & 0x1f, ...readFlags(bytes[4]!, ofCounter) }),
  write: (held) => {
    const bytes = new Uint8Array(5);
    view(bytes).setInt32(0, number(held, 'value'), true);
    bytes[4] = (number(held, 'sequence') & 0x1f) | writeFlags(held, ofCounter);
    return [...bytes];
  },
  tell: (held) => `${number(held, 'value')} (reading ${number(held, 'sequence')})${tellFlags(held, ofCounter)}`,
};

const pulses = ['', 'as a short pulse', 'as a long pulse', 'to stay'];
const selecting: Flags = [['select', 7, 'only selected']];
const commanded = (held: Held, what: string) => {
  const pulse = pulses[number(held, 'qualifier')] ?? `with qualifier ${number(held, 'qualifier')}`;
  return `${what}${pulse ? ` ${pulse}` : ''}${tellFlags(held, selecting)}`;
};

/** Single command. */
export const sco: Element = {
  name: 'single command',
  bytes: 1,
  read: ([byte]) => ({ value: byte! & 1, qualifier: (byte! >> 2) & 0x1f, ...readFlags(byte!, selecting) }),
  write: (held) => [(number(held, 'value') & 1) | ((number(held, 'qualifier') & 0x1f) << 2) | writeFlags(held, selecting)],
  tell: (held) => commanded(held, number(held, 'value') ? 'on' : 'off'),
};

/** Double command: 1 is off and 2 is on; the others are none. */
export const dco: Element = {
  name: 'double command',
  bytes: 1,
  read: ([byte]) =>
    (byte! & 3) === 1 || (byte! & 3) === 2 ? { value: byte! & 3, qualifier: (byte! >> 2) & 0x1f, ...readFlags(byte!, selecting) } : null,
  write: (held) => [(number(held, 'value') & 3) | ((number(held, 'qualifier') & 0x1f) << 2) | writeFlags(held, selecting)],
  tell: (held) => commanded(held, number(held, 'value') === 2 ? 'on' : 'off'),
};

/** Qualifier of a set point. */
export const qos: Element = {
  name: 'set-point qualifier',
  bytes: 1,
  read: ([byte]) => ({ qualifier: byte! & 0x7f, ...readFlags(byte!, selecting) }),
  write: (held) => [(number(held, 'qualifier') & 0x7f) | writeFlags(held, selecting)],
  tell: (held) => tellFlags(held, selecting).slice(2) || 'executed',
};

const starts = ['power was switched on', 'it was reset by hand', 'it was reset from afar'];

/** Cause of an initialisation. */
export const coi: Element = {
  name: 'cause of the start',
  bytes: 1,
  read: ([byte]) => ({ value: byte! & 0x7f, changed: byte! >= 0x80 }),
  write: (held) => [(number(held, 'value') & 0x7f) | (flag(held, 'changed') ? 0x80 : 0)],
  tell: (held) =>
    `${starts[number(held, 'value')] ?? `cause ${number(held, 'value')}`}${flag(held, 'changed') ? ', with other parameters' : ''}`,
};

/** Qualifier of an interrogation: 20 the whole station, 21 to 36 one of its groups. */
export const qoi: Element = {
  name: 'what is asked',
  bytes: 1,
  read: ([byte]) => ({ value: byte! }),
  write: (held) => [number(held, 'value') & 0xff],
  tell: (held) => {
    const value = number(held, 'value');
    return value === 20 ? 'the whole station' : value >= 21 && value <= 36 ? `group ${value - 20}` : `qualifier ${value}`;
  },
};

const freezes = ['read', 'frozen', 'frozen and reset', 'reset'];

/** Qualifier of an interrogation of counters: 5 all of them, 1 to 4 one of their groups. */
export const qcc: Element = {
  name: 'which counters',
  bytes: 1,
  read: ([byte]) => ({ value: byte! & 0x3f, freeze: byte! >> 6 }),
  write: (held) => [(number(held, 'value') & 0x3f) | ((number(held, 'freeze') & 3) << 6)],
  tell: (held) => {
    const value = number(held, 'value');
    return `${value === 5 ? 'all' : value >= 1 && value <= 4 ? `group ${value}` : `request ${value}`}, ${freezes[number(held, 'freeze') & 3]!}`;
  },
};

/** Time of seven octets. */
export const cp56: Element = {
  name: 'time',
  bytes: TIME_BYTES,
  read: (bytes) => {
    const time = readTime(bytes);
    return time && { time };
  },
  write: ({ time }) => writeTime(typeof time === 'object' ? time : { atMs: 0, invalid: true, summer: false }),
  tell: ({ time }) => {
    if (typeof time !== 'object') return 'no time';
    const text = new Date(time.atMs).toISOString().replace('T', ' ').replace('Z', ' UTC');
    return `${text}${time.summer ? ', marked as summer time' : ''}${time.invalid ? ', by a clock that was not set' : ''}`;
  },
};
