import type { TypeDefinition } from './definition.js';
import { numericTypes, type NumericType, pointTypes, type PointType, typeOf, type ValueType, valueTypes } from './list.js';

/** Registers that a value of this type takes (or the one bit); `length` counts where the type has no width of its own (default 1). */
export function widthOf(type: PointType, length?: number): number {
  return typeOf(type).width ?? length ?? 1;
}

/** Whether the point has to say how many registers it takes. */
export function hasFreeLength(type: PointType): boolean {
  return typeOf(type).width === null;
}

/** Whether it holds numbers, which can be scaled. */
export function isNumeric(type: PointType): type is NumericType {
  return (numericTypes as readonly string[]).includes(type);
}

export function isFloat(type: PointType): boolean {
  return typeOf(type).kind === 'float';
}

export function isText(type: PointType): boolean {
  return typeOf(type).kind === 'text';
}

/** The raw values that a type holds, both ends included. */
export function rangeOf(type: NumericType): { low: number; high: number } {
  const definition = typeOf(type);
  return definition.kind === 'float'
    ? { low: -definition.limit, high: definition.limit }
    : { low: Number(definition.low), high: Number(definition.high) };
}

/** The least far-fetched whole or floating type of so many registers; null where there is none. */
export function likeliestOf(width: number, kind: 'whole' | 'float'): NumericType | null {
  const fitting = numericTypes
    .map((type) => typeOf(type))
    .filter((type) => type.width === width && (type.kind === 'float') === (kind === 'float'));
  return fitting.sort((a, b) => a.guessCost - b.guessCost)[0]?.name ?? null;
}

/** A type that a text names, and of how many registers where the text says so. */
export interface NamedType {
  type: PointType;
  width: number | null;
}

/** The type that manuals call this (in lower case). */
export function readManualName(text: string): NamedType | null {
  return firstThat(({ manuals, sized }) => {
    const size = sized?.pattern.exec(text)?.[1];
    if (sized && size !== undefined) return { width: Math.ceil(Number(size) / sized.perRegister) };
    return manuals.test(text) ? { width: null } : null;
  });
}

/** The type that IEC 61131-3 calls this. */
export function readIecName(text: string): NamedType | null {
  const name = text.toUpperCase().replace(/\s+/g, '');
  return firstThat(({ iec }) => iec.read(name));
}

/** The type of registers that XML Schema calls this, such as `xsd:float`. */
export function readXsdName(text: string): ValueType | null {
  const name = `xsd:${text.replace(/^(xsd|xs):/, '').toLowerCase()}`;
  return valueTypes.find((type) => typeOf(type).thing.xsd?.toLowerCase() === name) ?? null;
}

function firstThat(reads: (type: TypeDefinition) => { width: number | null } | null): NamedType | null {
  for (const type of pointTypes) {
    const found = reads(typeOf(type));
    if (found) return { type, width: found.width };
  }
  return null;
}
