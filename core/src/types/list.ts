import * as z from 'zod';
import { namesOf } from '../common/index.js';
import { bcd16 } from './bcd16.js';
import { bcd32 } from './bcd32.js';
import { bit } from './bit.js';
import { bits } from './bits.js';
import type { NumberType, TypeDefinition } from './definition.js';
import { float32 } from './float32.js';
import { float64 } from './float64.js';
import { int16 } from './int16.js';
import { int32 } from './int32.js';
import { int64 } from './int64.js';
import { mod10of32 } from './mod10-32.js';
import { string } from './string.js';
import { uint16 } from './uint16.js';
import { uint32 } from './uint32.js';
import { uint64 } from './uint64.js';

/** What numbers look like in registers, in the order in which they are offered. */
const numbers = [int16, uint16, int32, uint32, int64, uint64, float32, float64, bcd16, bcd32, mod10of32] as const;
/** Every way in which registers hold a value. A new type is a file of its own and its name here or above. */
const ofRegisters = [...numbers, string, bits] as const;
const all = [bit, ...ofRegisters] as const;

type NameOf<List extends readonly TypeDefinition[]> = List[number]['name'];

export type NumericType = NameOf<typeof numbers>;
export const ValueType = z.enum(namesOf(ofRegisters));
export type ValueType = NameOf<typeof ofRegisters>;
/** The same and the single bit. */
export const PointType = z.enum(namesOf(all));
export type PointType = NameOf<typeof all>;

export const numericTypes: readonly NumericType[] = namesOf(numbers);
export const valueTypes: readonly ValueType[] = namesOf(ofRegisters);
export const pointTypes: readonly PointType[] = namesOf(all);

const byName = new Map<string, TypeDefinition>(all.map((type) => [type.name, type]));

/** All that is known of a type. */
export function typeOf(type: NumericType): NumberType<NumericType>;
export function typeOf(type: PointType): TypeDefinition<PointType>;
export function typeOf(type: PointType): TypeDefinition {
  return byName.get(type)!;
}
