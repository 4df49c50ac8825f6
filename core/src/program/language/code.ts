import { mistake, type At } from './problem.js';
import { BOOL, elementary, isBig, isBits, isReal, isSameType, isWhole, type Type, typeName, widensTo, widthOf } from './types.js';
import { rangeOf, wholeAs } from './values.js';

/** What is worked out when the program runs, from the variables of the unit in which it stands. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- what comes out is known by the type beside it, which was checked
export type Run = (slots: unknown[]) => any;

/** A number as it was written, which takes the type that is wanted. */
export interface Untyped {
  kind: 'untyped';
  of: 'whole' | 'real';
}
export const WHOLE: Untyped = { kind: 'untyped', of: 'whole' };
export const DECIMAL: Untyped = { kind: 'untyped', of: 'real' };

/** Where a value is kept: an element of an array of values, or bits of such an element. */
export interface Place {
  type: Type;
  holder: (slots: unknown[]) => unknown[];
  index: (slots: unknown[]) => number;
  part: Part | null;
  /** Why it is not written; null where it may be. */
  locked: string | null;
  /** Of a variable from outside: its place among those. */
  outer: number | null;
}

/** Bits of a bit string or whole number, from `from` on. */
export interface Part {
  of: Type;
  from: number;
  bits: number;
}

/** An expression, checked: its type, and what works it out. */
export interface Code {
  type: Type | Untyped;
  run: Run;
  /** The value, where it is known before the program runs: of a number as written a bigint or number, else as it is held. */
  constant?: unknown;
  place?: Place;
  at: At;
}

export function constantCode(type: Type | Untyped, constant: unknown, at: At): Code {
  return { type, constant, run: () => constant, at };
}

export function isUntyped(type: Type | Untyped): type is Untyped {
  return type.kind === 'untyped';
}

export function nameOfType(type: Type | Untyped): string {
  return isUntyped(type) ? (type.of === 'whole' ? 'a whole number' : 'a number') : typeName(type);
}

/** The same as a value of a type, without a word in between (edition 3, section 6.4.4.10.2); a mistake where that is not so. */
export function convert(code: Code, type: Type): Code {
  if (isUntyped(code.type)) return { ...asWritten(code, type), at: code.at };
  if (isSameType(code.type, type)) return code;
  if (!widensTo(code.type, type)) mistake(code.at, cannot(code.type, type));
  const change = widening(code.type, type);
  if (!change) return { ...code, type };
  const { run } = code;
  const wide: Code = { type, at: code.at, run: (slots) => change(run(slots)) };
  return code.constant === undefined ? wide : { ...wide, constant: change(code.constant) };
}

/** How a value that is held as one type is held as the other; null where it is the same. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- as above
function widening(from: Type, to: Type): ((value: any) => unknown) | null {
  if (from === BOOL) return isBig(to) ? (value: boolean) => (value ? 1n : 0n) : Number;
  if (isBig(to) && !isBig(from)) return (value: number) => BigInt(value);
  if (to.kind === 'elementary' && to.name === 'REAL') return Math.fround;
  return null;
}

/** A number as it was written, as a value of the type that is wanted. */
function asWritten({ constant, at, type }: Code, to: Type): Code {
  const value = constant as bigint | number;
  if (isReal(to)) return constantCode(to, to.kind === 'elementary' && to.name === 'REAL' ? Math.fround(Number(value)) : Number(value), at);
  const width = widthOf(to);
  if (!width)
    mistake(
      at,
      `${typeName(to)} takes no number as it is.${to.kind === 'elementary' && to.name === 'TIME' ? ' Write a time like T#500ms.' : ''}`,
    );
  if (typeof value === 'number') mistake(at, `${value} has a fraction or an exponent; ${typeName(to)} holds whole numbers.`);
  const [low, high] = rangeOf(width);
  if (value < low || value > high)
    mistake(at, `${value} does not fit into ${nameOfType(isUntyped(type) ? to : type)}, which holds ${low} to ${high}.`);
  return constantCode(to, wholeAs(to, value), at);
}

/** The type that a number as it was written has where none is wanted. */
export function settled(code: Code): Code & { type: Type } {
  if (!isUntyped(code.type)) return code as Code & { type: Type };
  const names = code.type.of === 'real' ? (['LREAL'] as const) : (['INT', 'DINT', 'LINT', 'ULINT'] as const);
  for (const name of names) {
    const type = elementary(name);
    const width = widthOf(type);
    const value = code.constant as bigint;
    if (width && (value < rangeOf(width)[0] || value > rangeOf(width)[1])) continue;
    return convert(code, type) as Code & { type: Type };
  }
  return mistake(code.at, `${String(code.constant)} is longer than any number.`);
}

function cannot(from: Type, to: Type): string {
  const [one, other] = [typeName(from), typeName(to)];
  const both = (type: Type) => type.kind === 'elementary' || type.kind === 'string';
  if (!both(from) || !both(to)) return `${one} is no ${other}.`;
  const [a, b] = [one, other].map((name) => name.replace(/\[.*/, ''));
  if (isBits(from) && isWhole(to) && from !== BOOL) return `${one} is bits, and ${other} is a number. Write ${a}_TO_${b}(…).`;
  return `${one} does not become ${other} by itself. Write ${a}_TO_${b}(…).`;
}
