import {
  type At,
  BOOL,
  type Code,
  DINT,
  durationOf,
  durationText,
  elementary,
  elementaryNames,
  isBits,
  isReal,
  isUntyped,
  isWhole,
  Mistake,
  mistake,
  pure,
  rangeOf,
  REAL,
  roundEven,
  type Run,
  settled,
  Stopped,
  STRING,
  TIME,
  type Type,
  typeName,
  wholeAs,
  wholeFrom,
  widthOf,
} from '../language/index.js';
import type { StandardFunction } from './definition.js';

/** Of any type, or of the one that is named before `_TO_`. */
type From = Type | null;

const named = [...elementaryNames.map((name) => elementary(name)), STRING];

/** Every `X_TO_Y`, `TO_Y`, `X_TRUNC_Y`, `TRUNC` and the conversions of binary coded decimals (edition 3, tables 22 to 27). */
export const conversions: readonly StandardFunction[] = [
  ...named.flatMap((to) => [conversion(null, to), ...named.filter((from) => from !== to).map((from) => conversion(from, to))]),
  ...named
    .filter(isWhole)
    .flatMap((to) => [
      truncation(`TRUNC_${typeName(to)}`, null, to),
      ...[REAL, elementary('LREAL')].map((from) => truncation(`${typeName(from)}_TRUNC_${typeName(to)}`, from, to)),
    ]),
  // Without a type in its name it gives the one that is wanted.
  {
    ...truncation('TRUNC', null, DINT),
    compile: (call) => truncation('TRUNC', null, call.wanted && isWhole(call.wanted) ? call.wanted : DINT).compile(call),
  },
  ...named
    .filter((type) => isBits(type) && type !== BOOL)
    .flatMap((bits) =>
      named
        .filter((type) => isWhole(type) && !widthOf(type)!.signed)
        .flatMap((whole) => [
          fromBcd(`${typeName(bits)}_BCD_TO_${typeName(whole)}`, bits, whole),
          toBcd(`${typeName(whole)}_TO_BCD_${typeName(bits)}`, whole, bits),
        ]),
    ),
  ...named.filter((type) => isWhole(type) && !widthOf(type)!.signed).map((whole) => fromBcd(`BCD_TO_${typeName(whole)}`, null, whole)),
  ...named.filter((type) => isBits(type) && type !== BOOL).map((bits) => toBcd(`TO_BCD_${typeName(bits)}`, null, bits)),
];

function conversion(from: From, to: Type): StandardFunction {
  return {
    name: `${from ? `${typeName(from)}_` : ''}TO_${typeName(to)}`,
    parameters: ['IN'],
    ...(from ? { takes: from } : {}),
    says: `${from ? typeName(from) : 'Any value'} as ${typeName(to)}.`,
    compile: ({ args, at, name }) => {
      const code = given(args[0]!, from, name);
      const change = changing(code.type, to, at);
      if (!change) mistake(code.at, `${typeName(code.type)} is not converted to ${typeName(to)}.`);
      const { run } = code;
      return pure(to, (slots) => change(run(slots)), at, code);
    },
  };
}

/** The argument as the type that the name of the function says, which it has to be. */
function given(code: Code, from: From, name: string): Code & { type: Type } {
  if (!from) return settled(code);
  if (isUntyped(code.type)) {
    if (isReal(from))
      return { ...code, type: from, run: () => single(Number(code.constant), from), constant: single(Number(code.constant), from) };
    const width = widthOf(from);
    if (!width || code.type.of === 'real') mistake(code.at, `${name} takes ${typeName(from)}.`);
    const value = code.constant as bigint;
    const [low, high] = rangeOf(width);
    if (value < low || value > high) mistake(code.at, `${value} does not fit into ${typeName(from)}.`);
    const constant = wholeAs(from, value);
    return { ...code, type: from, run: () => constant, constant };
  }
  const isIt = from.kind === 'string' ? code.type.kind === 'string' : code.type === from;
  if (!isIt) mistake(code.at, `${name} takes ${typeName(from)}, not ${typeName(code.type)}.`);
  return code as Code & { type: Type };
}

function single(value: number, type: Type): number {
  return type === REAL ? Math.fround(value) : value;
}

/* eslint-disable @typescript-eslint/no-explicit-any -- each function gets what its first type holds */
type Change = (value: any) => unknown;

/** How a value of the one type becomes one of the other; null where it does not. */
function changing(from: Type, to: Type, at: At): Change | null {
  if (from.kind === 'enum') return isWhole(to) ? (value: number) => wholeAs(to, BigInt(value)) : null;
  if (to.kind === 'string') return (value) => textOfValue(value, from);
  if (from.kind === 'string') return (value: string) => valueOfText(value, to, at);
  if (from === to) return (value) => value;
  if (to === BOOL)
    return isBits(from)
      ? (value: number | bigint) => (BigInt(value) & 1n) === 1n
      : isReal(from) || isWhole(from)
        ? (value) => Number(value) !== 0
        : null;
  if (isReal(from)) return fromReal(from, to, at);
  if (from === TIME)
    return isReal(to)
      ? (value: number) => single(value, to)
      : isBits(to) || isWhole(to)
        ? (value: number) => wholeFrom(roundEven(value), to, at)
        : null;
  if (isReal(to)) return toReal(from, to);
  if (to === TIME) return (value: number | bigint | boolean) => Number(value);
  // What is not there on the left of bits is zero; a number keeps its sign (edition 3, table 24).
  const mask = isBits(to) && isWhole(from) && widthOf(from)!.signed ? rangeOf({ bits: widthOf(from)!.bits, signed: false })[1] : null;
  return (value: number | bigint | boolean) => wholeAs(to, mask === null ? BigInt(value) : BigInt(value) & mask);
}

/** Bits of a REAL in a DWORD, of an LREAL in an LWORD, are the same bits (edition 3, table 24); numbers are rounded. */
function fromReal(from: Type, to: Type, at: At): Change | null {
  if (isReal(to)) return (value: number) => single(value, to);
  if (to === TIME) return (value: number) => value;
  if (isWhole(to)) return (value: number) => wholeFrom(roundEven(value), to, at);
  const view = new DataView(new ArrayBuffer(8));
  if (from === REAL && to === elementary('DWORD')) return (value: number) => (view.setFloat32(0, value), view.getUint32(0));
  if (from !== REAL && to === elementary('LWORD')) return (value: number) => (view.setFloat64(0, value), view.getBigUint64(0));
  return null;
}

function toReal(from: Type, to: Type): Change | null {
  if (!isBits(from)) return (value: number | bigint) => single(Number(value), to);
  const view = new DataView(new ArrayBuffer(8));
  if (to === REAL && from === elementary('DWORD')) return (value: number) => (view.setUint32(0, value), view.getFloat32(0));
  if (to !== REAL && from === elementary('LWORD')) return (value: bigint) => (view.setBigUint64(0, value), view.getFloat64(0));
  return from === BOOL ? Number : null;
}

function textOfValue(value: any, type: Type): string {
  if (type === BOOL) return value ? 'TRUE' : 'FALSE';
  if (type === TIME) return durationText(value as number);
  if (isBits(type))
    return `16#${BigInt(value as number)
      .toString(16)
      .toUpperCase()}`;
  if (isReal(type)) return realText(value as number, type === REAL);
  return String(value);
}

/** As short as it is told from all others of its precision, with a point. */
function realText(value: number, isSingle: boolean): string {
  let text = String(value);
  if (isSingle) {
    for (let digits = 1; digits <= 9; digits++) {
      const short = Number(value.toPrecision(digits));
      if (Math.fround(short) === value) {
        text = String(short);
        break;
      }
    }
  }
  return /^-?\d+$/.test(text) ? `${text}.0` : text;
}

function valueOfText(text: string, to: Type, at: At): unknown {
  const no = () => new Stopped(`'${text}' is no ${typeName(to)}.`, at);
  const trimmed = text.trim();
  if (to === TIME) {
    try {
      return durationOf(trimmed, at);
    } catch (error) {
      throw error instanceof Mistake ? no() : error;
    }
  }
  if (to === BOOL) {
    const word = trimmed.toUpperCase();
    if (!['TRUE', 'FALSE', '1', '0'].includes(word)) throw no();
    return word === 'TRUE' || word === '1';
  }
  if (isReal(to)) {
    const number = Number(trimmed);
    if (trimmed === '' || !Number.isFinite(number)) throw no();
    return single(number, to);
  }
  const based = /^(2|8|16)#([\dA-Fa-f]+)$/.exec(trimmed);
  const image = based ? { '2': '0b', '8': '0o', '16': '0x' }[based[1]!]! + based[2]! : trimmed;
  if (!based && !/^[+-]?\d+$/.test(image)) throw no();
  let whole: bigint;
  try {
    whole = image.startsWith('-') ? -BigInt(image.slice(1)) : BigInt(image.replace('+', ''));
  } catch {
    throw no();
  }
  const [low, high] = rangeOf(widthOf(to)!);
  if (whole < low || whole > high) throw no();
  return wholeAs(to, whole);
}

function truncation(name: string, from: From, to: Type): StandardFunction {
  return {
    name,
    parameters: ['IN'],
    ...(from ? { takes: from } : {}),
    says: `A REAL without its fraction, as ${typeName(to)}.`,
    compile: ({ args, at }) => {
      const code = isUntyped(args[0]!.type) ? given(args[0]!, elementary('LREAL'), name) : given(args[0]!, from, name);
      if (!isReal(code.type)) mistake(code.at, `${name} takes REAL or LREAL, not ${typeName(code.type)}.`);
      const run: Run = (slots) => wholeFrom(Math.trunc(code.run(slots) as number), to, at);
      return pure(to, run, at, code);
    },
  };
}

function fromBcd(name: string, from: From, to: Type): StandardFunction {
  return {
    name,
    parameters: ['IN'],
    ...(from ? { takes: from } : {}),
    says: `Binary coded decimals as ${typeName(to)}.`,
    compile: ({ args, at }) => {
      const code = given(args[0]!, from, name);
      if (!isBits(code.type)) mistake(code.at, `${name} takes a bit string, not ${typeName(code.type)}.`);
      const run: Run = (slots) => {
        const digits = BigInt(code.run(slots) as number).toString(16);
        if (!/^\d+$/.test(digits))
          throw new Stopped(`16#${digits.toUpperCase()} has digits above 9, so it is no binary coded decimal.`, at);
        return wholeAs(to, BigInt(digits));
      };
      return pure(to, run, at, code);
    },
  };
}

function toBcd(name: string, from: From, to: Type): StandardFunction {
  return {
    name,
    parameters: ['IN'],
    ...(from ? { takes: from } : {}),
    says: `A whole number as binary coded decimals in ${typeName(to)}.`,
    compile: ({ args, at }) => {
      const code = given(args[0]!, from, name);
      if (!isWhole(code.type)) mistake(code.at, `${name} takes a whole number, not ${typeName(code.type)}.`);
      const most = widthOf(to)!.bits / 4;
      const run: Run = (slots) => {
        const digits = String(code.run(slots));
        if (digits.startsWith('-') || digits.length > most)
          throw new Stopped(`${digits} has more than the ${most} decimals of ${typeName(to)}.`, at);
        return wholeAs(to, BigInt(`0x${digits}`));
      };
      return pure(to, run, at, code);
    },
  };
}
