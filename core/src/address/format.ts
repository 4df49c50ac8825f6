import * as z from 'zod';
import { type Area, inArea } from './area.js';
import { tableDigit } from './table-digit.js';
import type { Table } from './table.js';

/** How a device's papers write addresses. */
export const Notation = z.enum(['pdu', 'number', 'reference5', 'reference6', 'hex', 'area']);
export type Notation = z.infer<typeof Notation>;

export const notationNames: Record<Notation, string> = {
  pdu: 'zero-based offset',
  number: 'one-based number',
  reference5: 'five-digit reference',
  reference6: 'six-digit reference',
  hex: 'hex offset',
  area: 'the controller’s own area',
};

/** How a programming package takes an address: as the zero-based offset, or as a number counted from one. */
export const EntryRule = z.enum(['asIs', 'subtractsOne']);
export type EntryRule = z.infer<typeof EntryRule>;

export interface Place {
  table: Table;
  offset: number;
  /** One bit of a register, from 0; null or left out for the whole. */
  bit?: number | null;
}

/**
 * Writes a place as a device's papers do. Where the notation cannot reach it (five digits end at offset 9998, an area has
 * an end) the six-digit reference is used, which can always. A bit of a register follows after a point.
 * Example: `formatAddress({ table: 'input', offset: 10 }, 'reference5')` gives `30011`.
 */
export function formatAddress(place: Place, notation: Notation, areas: readonly Area[] = []): string {
  if (notation === 'area') return inArea(place, areas) ?? formatAddress(place, 'reference6');
  const { table, offset, bit } = place;
  const whole = formatWhole(table, offset, notation);
  return bit === null || bit === undefined ? whole : `${whole}.${bit}`;
}

function formatWhole(table: Table, offset: number, notation: Exclude<Notation, 'area'>): string {
  switch (notation) {
    case 'pdu':
      return String(offset);
    case 'number':
      return String(offset + 1);
    case 'hex':
      return `0x${offset.toString(16).toUpperCase().padStart(4, '0')}`;
    case 'reference5':
      return reference5(table, offset) ?? reference6(table, offset);
    case 'reference6':
      return reference6(table, offset);
  }
}

/** The five-digit reference; null past offset 9998, where the digits end. */
export function reference5(table: Table, offset: number): string | null {
  return offset > 9998 ? null : `${tableDigit[table]}${String(offset + 1).padStart(4, '0')}`;
}

export function reference6(table: Table, offset: number): string {
  return `${tableDigit[table]}${String(offset + 1).padStart(5, '0')}`;
}

/** What is typed into a package for this offset. Example: `entryNumber(1024, 'subtractsOne')` is 1025. */
export function entryNumber(offset: number, entry: EntryRule): number {
  return entry === 'asIs' ? offset : offset + 1;
}
