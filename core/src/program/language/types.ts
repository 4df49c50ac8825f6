import type { BlockType } from './block.js';

/** Of a whole number: how many bits, and whether with a sign. */
export interface Width {
  bits: 1 | 8 | 16 | 32 | 64;
  signed: boolean;
}

const numbers = {
  SINT: [8, true],
  INT: [16, true],
  DINT: [32, true],
  LINT: [64, true],
  USINT: [8, false],
  UINT: [16, false],
  UDINT: [32, false],
  ULINT: [64, false],
} as const;
const strings = { BOOL: 1, BYTE: 8, WORD: 16, DWORD: 32, LWORD: 64 } as const;

export type WholeName = keyof typeof numbers;
export type BitsName = keyof typeof strings;
export type ElementaryName = WholeName | BitsName | 'REAL' | 'LREAL' | 'TIME';

export interface Elementary {
  kind: 'elementary';
  name: ElementaryName;
}
export interface StringType {
  kind: 'string';
  /** Characters that fit. */
  length: number;
}
export interface ArrayType {
  kind: 'array';
  low: number;
  high: number;
  of: Type;
}
export interface StructType {
  kind: 'struct';
  name: string;
  fields: Field[];
}
export interface Field {
  name: string;
  type: Type;
  /** Makes what it begins with. */
  first: () => unknown;
}
export interface EnumType {
  kind: 'enum';
  name: string;
  values: { name: string; number: number }[];
}
export interface InstanceType {
  kind: 'block';
  block: BlockType;
}
export type Type = Elementary | StringType | ArrayType | StructType | EnumType | InstanceType;

const widths = new Map<ElementaryName, Width>([
  ...Object.entries(numbers).map(([name, [bits, signed]]) => [name as ElementaryName, { bits, signed }] as const),
  ...Object.entries(strings).map(([name, bits]) => [name as ElementaryName, { bits, signed: false }] as const),
]);

export const elementaryNames = [...widths.keys(), 'REAL', 'LREAL', 'TIME'] as ElementaryName[];
const singles = new Map(elementaryNames.map((name) => [name, { kind: 'elementary', name } as Elementary]));

export function elementary(name: ElementaryName): Elementary {
  return singles.get(name)!;
}

export const BOOL = elementary('BOOL');
export const INT = elementary('INT');
export const DINT = elementary('DINT');
export const LREAL = elementary('LREAL');
export const REAL = elementary('REAL');
export const TIME = elementary('TIME');
/** What a text holds where nothing is said (edition 3, section 6.4.2). */
export const STRING: StringType = { kind: 'string', length: 80 };

/** The elementary type of that name; undefined for none. */
export function elementaryNamed(name: string): Elementary | undefined {
  return singles.get(name.toUpperCase() as ElementaryName);
}

/** Bits and sign of a whole number or a bit string; undefined for all else. */
export function widthOf(type: Type): Width | undefined {
  return type.kind === 'elementary' ? widths.get(type.name) : undefined;
}

export function isWhole(type: Type): boolean {
  return type.kind === 'elementary' && type.name in numbers;
}

export function isBits(type: Type): boolean {
  return type.kind === 'elementary' && type.name in strings;
}

export function isReal(type: Type): boolean {
  return type === REAL || type === LREAL;
}

export function isNumber(type: Type): boolean {
  return isWhole(type) || isReal(type);
}

/** Whether its values are held as bigint: those of 64 bits. */
export function isBig(type: Type): boolean {
  return widthOf(type)?.bits === 64;
}

export function typeName(type: Type): string {
  switch (type.kind) {
    case 'elementary':
      return type.name;
    case 'string':
      return type.length === STRING.length ? 'STRING' : `STRING[${type.length}]`;
    case 'array':
      return `ARRAY[${type.low}..${type.high}] OF ${typeName(type.of)}`;
    case 'block':
      return type.block.name;
    default:
      return type.name;
  }
}

export function isSameType(one: Type, other: Type): boolean {
  if (one === other) return true;
  if (one.kind === 'string' && other.kind === 'string') return true;
  if (one.kind === 'array' && other.kind === 'array')
    return one.low === other.low && one.high === other.high && isSameType(one.of, other.of);
  if (one.kind === 'block' && other.kind === 'block') return one.block === other.block;
  return false;
}

/** What a type is taken for without a word (edition 3, figure 12). */
const wider: Partial<Record<ElementaryName, readonly ElementaryName[]>> = {
  SINT: ['INT', 'DINT', 'LINT', 'REAL', 'LREAL'],
  INT: ['DINT', 'LINT', 'REAL', 'LREAL'],
  DINT: ['LINT', 'LREAL'],
  USINT: ['UINT', 'INT', 'UDINT', 'DINT', 'ULINT', 'LINT', 'REAL', 'LREAL'],
  UINT: ['UDINT', 'DINT', 'ULINT', 'LINT', 'REAL', 'LREAL'],
  UDINT: ['ULINT', 'LINT', 'LREAL'],
  REAL: ['LREAL'],
  BOOL: ['BYTE', 'WORD', 'DWORD', 'LWORD'],
  BYTE: ['WORD', 'DWORD', 'LWORD'],
  WORD: ['DWORD', 'LWORD'],
  DWORD: ['LWORD'],
};

export function widensTo(from: Type, to: Type): boolean {
  if (isSameType(from, to)) return true;
  return from.kind === 'elementary' && to.kind === 'elementary' && (wider[from.name]?.includes(to.name) ?? false);
}

/** The narrowest type that both are taken for; null where there is none. */
export function commonType(one: Type, other: Type): Type | null {
  if (widensTo(one, other)) return one.kind === 'string' && other.kind === 'string' && one.length > other.length ? one : other;
  if (widensTo(other, one)) return one;
  if (one.kind !== 'elementary' || other.kind !== 'elementary') return null;
  const both = (wider[one.name] ?? []).filter((name) => wider[other.name]?.includes(name));
  const narrowest = ['INT', 'UINT', 'DINT', 'UDINT', 'LINT', 'ULINT', 'REAL', 'LREAL', 'WORD', 'DWORD', 'LWORD'].find((name) =>
    both.includes(name as ElementaryName),
  );
  return narrowest ? elementary(narrowest as ElementaryName) : null;
}
