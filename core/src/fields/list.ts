import { access } from './access.js';
import { address } from './address.js';
import { bit } from './bit.js';
import { bits } from './bits.js';
import { codes } from './codes.js';
import { decimals } from './decimals.js';
import type { FieldDefinition, SheetCell } from './definition.js';
import { divisor } from './divisor.js';
import { encoding } from './encoding.js';
import { length } from './length.js';
import { name } from './name.js';
import { note } from './note.js';
import { order } from './order.js';
import { scale } from './scale.js';
import { setting } from './setting.js';
import { table } from './table.js';
import { type } from './type.js';
import { unit } from './unit.js';

/**
 * The fields of a point in the order in which they are shown, and in which a row's cells are taken: what a field needs of
 * others comes before it. A new one is a file of its own and its name here.
 */
const all = [
  name,
  address,
  table,
  bit,
  type,
  order,
  length,
  encoding,
  scale,
  divisor,
  decimals,
  unit,
  access,
  setting,
  bits,
  codes,
  note,
] as const;

export type MapField = (typeof all)[number]['name'];
export const mapFields: readonly MapField[] = all.map((field) => field.name);

const byName = new Map<string, FieldDefinition<MapField>>(all.map((field) => [field.name, field]));

export function fieldOf(field: MapField): FieldDefinition<MapField> {
  return byName.get(field)!;
}

/** The fields that have a cell in a sheet. */
export type CellField = Exclude<MapField, 'divisor' | 'decimals'>;
export const cellFields = mapFields.filter((field): field is CellField => fieldOf(field).cell !== null);

export function cellOf(field: CellField): SheetCell {
  return fieldOf(field).cell!;
}
