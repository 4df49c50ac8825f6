import type { At } from './problem.js';
import { Stopped } from './problem.js';
import { elementary, type EnumType, type InstanceType, isBig, type Type, typeName, type Width, widthOf } from './types.js';
import { durationOf } from './literals.js';

/**
 * Values as they are held: BOOL as boolean; whole numbers and bit strings up to 32 bits as number, of 64 as bigint; REAL as a
 * number of single precision; TIME in ms; arrays, structures and instances of blocks as arrays of their elements.
 */
export type Value = boolean | number | bigint | string | unknown[];

/** Brings a whole number to its width: what does not fit wraps around. Takes any finite number without a fraction. */
export function wrapper(type: Type): (value: number) => number {
  const width = widthOf(type);
  if (!width || width.bits === 64) throw new Error(`${typeName(type)} is not held as a number.`);
  return wrappers[width.bits][width.signed ? 'signed' : 'unsigned'];
}

const wrappers = {
  1: { signed: (value: number) => value & 1, unsigned: (value: number) => value & 1 },
  8: { signed: (value: number) => (toInt32(value) << 24) >> 24, unsigned: (value: number) => toInt32(value) & 0xff },
  16: { signed: (value: number) => (toInt32(value) << 16) >> 16, unsigned: (value: number) => toInt32(value) & 0xffff },
  32: { signed: toInt32, unsigned: (value: number) => toInt32(value) >>> 0 },
};

/** `|` alone is right for all that a sum gives; products of 32 bits come as bigint. */
function toInt32(value: number): number {
  return value | 0;
}

export function wrapBig(value: bigint, { signed }: Width): bigint {
  return signed ? BigInt.asIntN(64, value) : BigInt.asUintN(64, value);
}

/** The range of a whole number or bit string. */
export function rangeOf({ bits, signed }: Width): [low: bigint, high: bigint] {
  return signed ? [-(1n << BigInt(bits - 1)), (1n << BigInt(bits - 1)) - 1n] : [0n, (1n << BigInt(bits)) - 1n];
}

/** Any whole number at the width of a type: as it is held. */
export function wholeAs(type: Type, value: bigint): number | bigint | boolean {
  const width = widthOf(type)!;
  if (width.bits === 1) return (value & 1n) === 1n;
  const wrapped = width.signed ? BigInt.asIntN(width.bits, value) : BigInt.asUintN(width.bits, value);
  return isBig(type) ? wrapped : Number(wrapped);
}

/** To the nearest whole number; of two as near, to the even one (IEC 60559). */
export function roundEven(value: number): number {
  const floor = Math.floor(value);
  const rest = value - floor;
  if (rest < 0.5) return floor;
  if (rest > 0.5) return floor + 1;
  return floor % 2 === 0 ? floor : floor + 1;
}

/** A rounded number as a whole number of a type, or the sentence that it is none. */
export function wholeFrom(rounded: number, type: Type, at: At): number | bigint | boolean {
  if (!Number.isFinite(rounded)) throw new Stopped(`${rounded} is no ${typeName(type)}.`, at);
  return wholeAs(type, BigInt(rounded));
}

/** What a variable of a type begins with where nothing is said. */
export function firstOf(type: Type): () => unknown {
  switch (type.kind) {
    case 'string':
      return () => '';
    case 'elementary':
      return type.name === 'BOOL' ? () => false : isBig(type) ? () => 0n : () => 0;
    case 'enum': {
      const number = type.values[0]?.number ?? 0;
      return () => number;
    }
    case 'array': {
      const [size, first] = [type.high - type.low + 1, firstOf(type.of)];
      return () => Array.from({ length: size }, first);
    }
    case 'struct':
      return () => type.fields.map((field) => field.first());
    case 'block':
      return () => type.block.make();
  }
}

/** Elements that a value of a type consists of; for once all blocks are declared. */
export const sizeOf = sizer(({ block }) =>
  block.variables.reduce((sum, { section, type }) => sum + (section === 'VAR_EXTERNAL' || section === 'VAR_IN_OUT' ? 1 : sizeOf(type)), 1),
);

/** The same, where a block counts as one, so that it may be asked before blocks are declared. */
export const countOf = sizer(() => 1);

function sizer(ofBlock: (type: InstanceType) => number): (type: Type) => number {
  const known = new WeakMap<Type, number>();
  const measure = (type: Type): number => {
    switch (type.kind) {
      case 'array':
        return (type.high - type.low + 1) * size(type.of);
      case 'struct':
        return type.fields.reduce((sum, field) => sum + size(field.type), 0);
      case 'block':
        return ofBlock(type);
      default:
        return 1;
    }
  };
  const size = (type: Type): number => {
    const found = known.get(type) ?? measure(type);
    known.set(type, found);
    return found;
  };
  return size;
}

/** A copy that shares nothing: arrays and structures are values. */
export function copied(value: unknown): unknown {
  return Array.isArray(value) ? value.map(copied) : value;
}

/** As JSON: numbers of 64 bits as decimal text, TIME in ms, structures and blocks by their names. */
export function toJson(value: unknown, type: Type): unknown {
  switch (type.kind) {
    case 'array':
      return (value as unknown[]).map((element) => toJson(element, type.of));
    case 'struct':
      return Object.fromEntries(type.fields.map((field, index) => [field.name, toJson((value as unknown[])[index], field.type)]));
    case 'block':
      return Object.fromEntries(
        type.block.variables.flatMap((variable, index) =>
          variable.isShown ? [[variable.name, toJson((value as unknown[])[index], variable.type)]] : [],
        ),
      );
    case 'enum':
      return enumName(type, value as number);
    default:
      return typeof value === 'bigint' ? value.toString() : value;
  }
}

export function enumName(type: EnumType, number: number): string | number {
  return type.values.find((value) => value.number === number)?.name ?? number;
}

/** What was given from outside as a value of a type; a sentence where it is none. Numbers of 64 bits and times may come as text. */
export function fromJson(given: unknown, type: Type): { ok: true; value: unknown } | { ok: false; why: string } {
  const no = (why: string) => ({ ok: false as const, why });
  const name = typeName(type);
  if (type.kind === 'string')
    return typeof given === 'string' ? { ok: true, value: given.slice(0, type.length) } : no(`${name} takes a text.`);
  if (type.kind === 'enum') {
    const value = type.values.find(
      (one) => one.number === given || (typeof given === 'string' && one.name.toLowerCase() === given.toLowerCase()),
    );
    return value ? { ok: true, value: value.number } : no(`${name} takes ${type.values.map((one) => one.name).join(', ')}.`);
  }
  if (type.kind !== 'elementary') return no(`${name} is written element by element.`);
  if (type === elementary('BOOL')) {
    if (typeof given === 'boolean') return { ok: true, value: given };
    return given === 0 || given === 1 ? { ok: true, value: given === 1 } : no('BOOL takes true or false.');
  }
  if (type === elementary('TIME') && typeof given === 'string') {
    try {
      return { ok: true, value: durationOf(given.includes('#') ? given : `T#${given}`, { line: 1, column: 1 }) };
    } catch {
      return no('TIME takes ms, or a text like T#1s500ms.');
    }
  }
  const width = widthOf(type);
  if (!width) {
    const number = typeof given === 'string' && given.trim() !== '' ? Number(given) : given;
    if (typeof number !== 'number' || !Number.isFinite(number)) return no(`${name} takes a number.`);
    return { ok: true, value: type.name === 'REAL' ? Math.fround(number) : number };
  }
  let whole: bigint;
  try {
    whole = BigInt(given as string | number);
  } catch {
    return no(`${name} takes a whole number.`);
  }
  const [low, high] = rangeOf(width);
  if (typeof given === 'boolean' || whole < low || whole > high) return no(`${name} takes ${low} to ${high}.`);
  return { ok: true, value: wholeAs(type, whole) };
}
