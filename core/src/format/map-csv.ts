import type { MapField } from './columns.js';
import { accessNames } from './words.js';
import type { Point } from '../model/index.js';
import { namedText, scaleText } from '../value/index.js';

/** The columns of our own table of registers; `readMap` reads every one of them back without loss. */
export const csvHeader = [
  'name',
  'table',
  'offset',
  'bit',
  'type',
  'order',
  'length',
  'encoding',
  'scale',
  'unit',
  'access',
  'bits',
  'codes',
  'note',
] as const;

/** Which field each of these columns is. */
export const csvFields: readonly MapField[] = csvHeader.map((head) => (head === 'offset' ? 'address' : head));

/** A point as one row of that table. */
export function csvRow(point: Point): string[] {
  return [
    point.name,
    point.table,
    String(point.offset),
    point.bit === null ? '' : String(point.bit),
    point.type,
    point.order,
    point.length === null ? '' : String(point.length),
    point.encoding ?? '',
    scaleText(point.scale),
    point.unit,
    accessNames[point.access],
    namedText(point.bits.map(({ bit, name }) => ({ number: bit, name }))),
    namedText(point.codes.map(({ value, name }) => ({ number: value, name }))),
    point.note,
  ].map(markText);
}

/** What a spreadsheet would take for a formula is marked as text with an apostrophe. */
function markText(cell: string): string {
  return /^'*[=+\-@\t]/.test(cell) ? `'${cell}` : cell;
}

/** Takes one such mark off. */
export function unmarkText(cell: string): string {
  return cell.replace(/^'(?='*[=+\-@\t])/, '');
}
