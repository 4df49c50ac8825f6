import { type Point, pointWidth } from '../model/index.js';
import { typeOf } from '../types/index.js';
import type { Scale } from '../value/index.js';
import { type Chain, NotInProgram, realText } from './chain.js';
import { hex, iecOf } from './words-text.js';

/** Leads the value of a variable, which is raw as its registers hold it, into the chain, in units. */
export function readPointText(text: string, point: Point, chain: Chain): void {
  const { dialect } = chain;
  const iec = iecOf(point, dialect);
  const { kind } = typeOf(point.type);
  if (kind === 'text') {
    refuseEncoding(point);
    chain.say(`§s := ${text};`);
    chain.held = { form: 'text' };
    return;
  }
  const { whole } = dialect;
  const read = decimal[point.type];
  if (read) {
    chain.require(read.isOne(text));
    chain.say(`§n := ${read.read(text, whole)};`);
    chain.held = { form: 'whole' };
  } else chain.held = { form: 'raw', iec, text, isList: kind === 'bits' };
  if (!point.scale) return;
  chain.number();
  chain.say(...toUnitsText(point.scale));
}

/** Puts the value at hand into a variable as its registers want it; what it cannot hold is not carried. */
export function writePointText(target: string, point: Point, chain: Chain): void {
  const { dialect, held } = chain;
  const { real, whole } = dialect;
  const iec = iecOf(point, dialect);
  const definition = typeOf(point.type);
  if (definition.kind === 'text') {
    if (held.form !== 'text') throw new NotInProgram(`${point.name} is a text, and what comes is none.`);
    refuseEncoding(point);
    chain.require(`LEN(§s) <= ${2 * pointWidth(point)}`);
    chain.say(`${target} := §s;`);
    return;
  }
  if (held.form === 'raw' && held.iec === iec && !point.scale && !decimal[point.type]) return chain.say(`${target} := ${held.text};`);
  if (point.type === 'bit') {
    chain.whole();
    chain.require('(§n = 0) OR (§n = 1)');
    return chain.say(`${target} := §n = 1;`);
  }
  if (definition.kind === 'bits' || definition.kind === 'bit') {
    if (held.form === 'raw' && sameWidth[held.iec] === iec) return chain.say(`${target} := ${held.iec}_TO_${iec}(${held.text});`);
    chain.whole();
    const most = 2n ** BigInt(16 * pointWidth(point)) - 1n;
    chain.require(most < 2n ** BigInt(dialect.width - 1) ? `(§n >= 0) AND (§n <= ${most})` : `§n >= 0`);
    return chain.say(`${target} := ${whole}_TO_${iec}(§n);`);
  }
  if (held.form === 'raw' && held.isList) throw new NotInProgram(`${point.name} is a number, and what comes is a list of bits.`);
  if (point.scale) {
    chain.number();
    chain.say(...toRawText(point.scale));
  }
  if (definition.kind === 'float') {
    chain.number();
    if (iec === 'REAL' && real === 'LREAL') chain.require('ABS(§x) <= 3.4028234663852886E38');
    return chain.say(`${target} := ${iec === real ? '§x' : `${real}_TO_${iec}(§x)`};`);
  }
  if (chain.held.form === 'raw' && /REAL$/.test(chain.held.iec)) chain.number();
  const { low, high } = definition;
  const exact = point.type.endsWith('16') || (point.type.endsWith('32') && real === 'LREAL');
  if (chain.held.form === 'number' && (definition.kind === 'whole' || point.scale)) {
    // A half goes away from 0, as on paper.
    chain.say('§x := §RoundAway(§x);');
    if (exact) chain.require(`(§x >= ${realText(Number(low))}) AND (§x <= ${realText(Number(high))})`);
    else chain.require(`ABS(§x) <= ${dialect.most}`);
    if (exact && !decimal[point.type]) return chain.say(`${target} := ${real}_TO_${iec}(§x);`);
    chain.say(`§n := ${real}_TRUNC_${whole}(§x);`);
    chain.held = { form: 'whole' };
  } else chain.whole();
  const bounds = [...(fits(low, dialect.width) ? [`(§n >= ${low})`] : []), ...(fits(high, dialect.width) ? [`(§n <= ${high})`] : [])];
  if (bounds.length > 0) chain.require(bounds.join(' AND '));
  chain.say(`${target} := ${decimal[point.type]?.write('§n', whole) ?? (iec === whole ? '§n' : `${whole}_TO_${iec}(§n)`)};`);
}

/** Whether a variable holds the end of what its point can hold, so that it may be more; null where that has no meaning. */
export function isFullText(text: string, point: Point): string | null {
  const type = typeOf(point.type);
  if ((point.unit === '' && point.scale === null) || (type.kind !== 'whole' && type.kind !== 'wide') || decimal[point.type]) return null;
  return [`(${text} = ${type.high})`, ...(type.low < 0 ? [`(${text} = ${type.low})`] : [])].join(' OR ');
}

/** Whether a variable is on: a bit, or anything but 0. */
export function isOnText(text: string, point: Point, iec: string): string {
  if (point.type === 'bit') return text;
  if (typeOf(point.type).kind === 'text') throw new NotInProgram(`${point.name} is a text, which is neither on nor off.`);
  return /REAL$/.test(iec) ? `(${text} <> 0.0)` : `(${text} <> 0)`;
}

/** The bits of a destination that a value is put into, its others as they are. */
export function insertText(target: string, point: Point, { at, count }: { at: number; count: number }, chain: Chain): void {
  const { whole, bits, width } = chain.dialect;
  const iec = iecOf(point, chain.dialect);
  if (at + count >= width) throw new NotInProgram(`${point.name} would need whole numbers of more than ${width} bits.`);
  chain.whole();
  chain.require(`(§n >= 0) AND (§n <= ${2n ** BigInt(count) - 1n})`);
  const own = `16#${hex((2n ** BigInt(count) - 1n) << BigInt(at))}`;
  const put = `SHL(${whole}_TO_${bits}(§n), ${at})`;
  const before = iec === bits ? target : `${iec}_TO_${bits}(${target})`;
  const all = `(${before} AND NOT ${bits}#${own}) OR ${put}`;
  chain.say(`${target} := ${iec === bits ? all : `${bits}_TO_${iec}(${all})`};`);
}

function toUnitsText(scale: Scale): string[] {
  if ('factor' in scale) return lineText(scale.factor, scale.offset);
  const [[rawLow, rawHigh], [unitLow, unitHigh]] = [scale.raw, scale.units];
  return [
    `§x := ${realText(unitLow)} + (§x - ${realText(rawLow)}) * ${realText(unitHigh - unitLow)} / ${realText(rawHigh - rawLow)};`,
    ...clampText(scale),
  ];
}

function toRawText(scale: Scale): string[] {
  if ('factor' in scale) {
    const { factor, offset } = scale;
    if (factor === 1 && offset === 0) return [];
    // From 0, so that 0 stays 0 without a sign where the factor has one.
    const from = factor < 0 ? `(${realText(offset)} - §x)` : offset === 0 ? '§x' : `(§x - ${realText(offset)})`;
    return [`§x := ${from}${factor === 1 ? '' : ` / ${realText(Math.abs(factor))}`};`];
  }
  const [[rawLow, rawHigh], [unitLow, unitHigh]] = [scale.raw, scale.units];
  return [
    ...clampText(scale),
    `§x := ${realText(rawLow)} + (§x - ${realText(unitLow)}) * ${realText(rawHigh - rawLow)} / ${realText(unitHigh - unitLow)};`,
  ];
}

/** A factor and an offset; nothing where they change nothing. */
export function lineText(factor: number, offset: number): string[] {
  if (factor === 1 && offset === 0) return [];
  const times = factor === 1 ? '' : ` * ${realText(Math.abs(factor))}`;
  const plus = offset === 0 ? '' : ` + ${realText(offset)}`;
  // From 0, so that 0 stays 0 without a sign where the factor has one.
  return [`§x := ${factor < 0 ? '(0.0 - §x)' : '§x'}${times}${plus};`];
}

function clampText({ units, clamp }: Extract<Scale, { raw: unknown }>): string[] {
  return clamp ? [`§x := LIMIT(${realText(Math.min(...units))}, §x, ${realText(Math.max(...units))});`] : [];
}

function fits(end: number | bigint, width: number): boolean {
  const most = 2n ** BigInt(width - 1);
  return BigInt(end) < most - 1n && BigInt(end) > -most;
}

function refuseEncoding({ name, encoding }: Point): void {
  if ((encoding ?? 'ascii') !== 'ascii') throw new NotInProgram(`${name} is a text in ${encoding}; the program has ASCII only.`);
}

/** Numbers without sign, and the strings of bits that hold as many. */
const sameWidth: Readonly<Record<string, string>> = { UINT: 'WORD', UDINT: 'DWORD', ULINT: 'LWORD' };

/** Numbers that are held digit by digit, which the language has as strings of bits. */
const decimal: Partial<
  Record<
    string,
    { isOne: (text: string) => string; read: (text: string, whole: string) => string; write: (text: string, whole: string) => string }
  >
> = {
  bcd16: {
    isOne: (text) => `§IsDecimal(WORD_TO_DWORD(${text}))`,
    read: (text, whole) => `UINT_TO_${whole}(WORD_BCD_TO_UINT(${text}))`,
    write: (text, whole) => `UINT_TO_BCD_WORD(${whole}_TO_UINT(${text}))`,
  },
  bcd32: {
    isOne: (text) => `§IsDecimal(${text})`,
    read: (text, whole) => `UDINT_TO_${whole}(DWORD_BCD_TO_UDINT(${text}))`,
    write: (text, whole) => `UDINT_TO_BCD_DWORD(${whole}_TO_UDINT(${text}))`,
  },
  'mod10-32': {
    isOne: (text) => `((${text} AND 16#FFFF) <= DWORD#16#270F) AND (SHR(${text}, 16) <= DWORD#16#270F)`,
    read: (text, whole) => `DWORD_TO_${whole}(SHR(${text}, 16)) * 10000 + DWORD_TO_${whole}(${text} AND 16#FFFF)`,
    write: (text, whole) => `SHL(${whole}_TO_DWORD(${text} / 10000), 16) OR ${whole}_TO_DWORD(${text} MOD 10000)`,
  },
};
