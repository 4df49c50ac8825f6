import type { Outcome } from '../outcome/index.js';
import type { RegisterText } from './text.js';

/** A value that shows a mistake by what becomes of it, as the registers hold it, and what it shows. */
export interface RawTellTale {
  raw: number | string | readonly number[];
  shows: string;
}

/** What a point says of itself that its tell-tales rest on. `own` counts the points tried together, so that no two have the same. */
export interface TellTaleFor {
  own: number;
  /** Registers. */
  width: number;
  /** Bits with a name; none where no bit has one. */
  namedBits: readonly number[];
}

/** How the declaration of a variable (IEC 61131-3, 6.4) names the type. */
export interface IecNames {
  /** As it is declared; `width` in registers. */
  declare(width: number): string;
  /** Whether a declared type, in upper case and without blanks, is this one, and of how many registers where it says so. */
  read(name: string): { width: number | null } | null;
}

/** How it is written in a Thing Description (WoT Modbus binding): a type of XML Schema, where there is one, and of JSON. */
export interface ThingNames {
  xsd: string | null;
  json: 'boolean' | 'integer' | 'number' | 'string';
}

interface Described<Name extends string> {
  name: Name;
  /** What manuals call it, in lower case. */
  manuals: RegExp;
  /** How manuals write it with a size, such as `string[16]`, and how many of what is counted fill a register. */
  sized?: { pattern: RegExp; perRegister: number };
  iec: IecNames;
  thing: ThingNames;
  tellTales(of: TellTaleFor): RawTellTale[];
}

/** Whole numbers that a JavaScript number holds. `read` and `write` have the most significant register first. */
export interface WholeType<Name extends string = string> extends Described<Name> {
  kind: 'whole';
  width: number;
  low: number;
  high: number;
  /** How far-fetched it is where registers are searched for a value: what manuals use most costs nothing. */
  guessCost: number;
  read(words: readonly number[]): Outcome<number>;
  write(raw: number): number[];
}

/** Whole numbers of 64 bits; unscaled they are shown and typed as decimal strings. */
export interface WideType<Name extends string = string> extends Described<Name> {
  kind: 'wide';
  width: number;
  low: bigint;
  high: bigint;
  guessCost: number;
  read(words: readonly number[]): bigint;
  write(raw: bigint): number[];
}

/** Floating-point numbers of IEEE 754. */
export interface FloatType<Name extends string = string> extends Described<Name> {
  kind: 'float';
  width: number;
  /** The greatest finite magnitude. */
  limit: number;
  /** Significant decimal digits that are worth showing. */
  digits: number;
  guessCost: number;
  read(words: readonly number[]): number;
  write(raw: number): number[];
}

/** Characters; the point says in how many registers. */
export interface TextType<Name extends string = string> extends Described<Name>, RegisterText {
  kind: 'text';
  width: null;
}

/** Bits by number, 0 the lowest; the point says in how many registers. */
export interface BitsType<Name extends string = string> extends Described<Name> {
  kind: 'bits';
  width: null;
}

/** A single bit: a coil, a discrete input, or one bit of a register. */
export interface BitType<Name extends string = string> extends Described<Name> {
  kind: 'bit';
  width: 1;
}

export type NumberType<Name extends string = string> = WholeType<Name> | WideType<Name> | FloatType<Name>;
export type TypeDefinition<Name extends string = string> = NumberType<Name> | TextType<Name> | BitsType<Name> | BitType<Name>;

/** A type that is declared by the first of these names and known by all of them. */
export function iecNames(declared: string, ...others: string[]): IecNames {
  const all = [declared, ...others];
  return { declare: () => declared, read: (name) => (all.includes(name) ? { width: null } : null) };
}

/** A type that IEC 61131-3 has no name for: it is declared as the bit string of its width, and never read back from it. */
export function iecBitString(declared: 'WORD' | 'DWORD'): IecNames {
  return { declare: () => declared, read: () => null };
}
