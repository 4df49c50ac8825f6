import type { AddressReading } from '../address/index.js';
import { Point } from '../model/index.js';
import { good, type Outcome, schemaProblem } from '../outcome/index.js';
import { fieldsAt } from './address.js';
import type { FieldContext } from './definition.js';
import { type CellField, cellOf } from './list.js';

/** What a cell of a point shows. */
export function cellText(point: Point, field: CellField, context: FieldContext): string {
  return cellOf(field).text(point, context);
}

/** A point with one cell written anew; `readings` are the other ways to understand an address, where there are any. */
export interface Written {
  point: Point;
  readings: AddressReading[];
}

/**
 * Writes text into a cell as a person types it. What follows from it is set as well: a coil is one bit, an input register can
 * only be read. Text that does not fit is a problem in a sentence, and the point stays as it was.
 */
export function writeCell(point: Point, field: CellField, text: string, context: FieldContext): Outcome<Written> {
  const typed = cellOf(field).type(point, text.trim(), context);
  if (!typed.ok) return typed;
  return checked({ ...point, ...typed.value.fields }, typed.value.readings);
}

/** The point at another place: as a reading says it. */
export function placeAt(point: Point, reading: Pick<AddressReading, 'table' | 'offset' | 'bit'>): Outcome<Written> {
  return checked({ ...point, ...fieldsAt(point, reading) });
}

function checked(point: unknown, readings: AddressReading[] = []): Outcome<Written> {
  const parsed = Point.safeParse(point);
  return parsed.success ? good({ point: parsed.data, readings }) : { ok: false, problem: schemaProblem(parsed.error) };
}
