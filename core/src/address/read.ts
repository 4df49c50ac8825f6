import { type Area, fromArea } from './area.js';
import { type Notation, notationNames } from './format.js';
import { tableOfDigit } from './table-digit.js';
import { LAST_OFFSET, type Table, tableNames } from './table.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** One honest way to understand an address as it was written. `table` is null where the text does not tell it. */
export interface AddressReading {
  table: Table | null;
  offset: number;
  /** One bit of the register, from 0. */
  bit: number | null;
  notation: Notation;
  why: string;
}

export interface ReadAddressOptions {
  /** The table that is meant where the text does not tell. */
  table?: Table | undefined;
  /** How it is written; none: find out. */
  notation?: Notation | undefined;
  areas?: readonly Area[] | undefined;
}

/** What a text gives under one notation: a reading, a sentence why it is none, or null where it does not look like it at all. */
type Attempt = AddressReading | string | null;

const SHORTEST_TEXT = 'An address is expected, such as 40108, 107, 0x006B or a name from an area.';

/**
 * Reads an address in whatever way it is written, the likeliest reading first and all other honest ones after it.
 * A number that only one notation could mean, and wrongly, is refused with a sentence that says what to do about it.
 * Example: `readAddress('40108')` gives holding offset 107, then offset 40108 zero-based, then offset 40107 one-based.
 */
export function readAddress(text: string, { table, notation, areas = [] }: ReadAddressOptions = {}): Outcome<AddressReading[]> {
  const spaced = text.trim().replace(/[\u00a0\u202f' ](?=\d)/g, '');
  const typed = /^\d{1,3},\d{3}$/.test(spaced) ? spaced.replace(',', '') : spaced;
  if (typed === '') return bad(SHORTEST_TEXT, 'text');
  const { whole, bit } = splitBit(typed);
  const attempts = notation
    ? [attempt(notation, notation === 'area' ? typed : whole, areas)]
    : likelihood(whole).map((likely) => attempt(likely, likely === 'area' ? typed : whole, areas));
  const refusals = attempts.filter((tried) => typeof tried === 'string');
  const found = attempts.filter((tried) => tried !== null && typeof tried !== 'string');
  if (refusals.length && (notation || found.every((reading) => reading.notation === 'pdu' || reading.notation === 'number'))) {
    return bad([refusals[0]!, ...found.slice(0, 1).map(otherwise)].join(' '), 'text');
  }
  if (found.length === 0) {
    return bad(
      notation ? `“${typed}” is no ${notationNames[notation]}.` : `“${typed}” is no address in any notation. ${SHORTEST_TEXT}`,
      'text',
    );
  }
  const fitting = found.filter((reading) => !table || !reading.table || reading.table === table);
  if (fitting.length === 0) {
    const names = tableNames[found[0]!.table!];
    return bad(`${typed} is a ${names.one}, but ${tableNames[table!].many} were asked for.`, 'text');
  }
  if (bit !== null && bit > 15 && fitting[0]!.notation !== 'area')
    return bad(`A register has the bits 0 to 15; ${typed} names ${bit}.`, 'text');
  return good(
    fitting.map((reading) => ({ ...reading, table: reading.table ?? table ?? null, bit: reading.notation === 'area' ? reading.bit : bit })),
  );
}

/** An address as it is typed for a device: as its papers write it where it can be read so, else in whatever way it is written. */
export function readDeviceAddress(
  text: string,
  { notation, areas }: Required<Pick<ReadAddressOptions, 'notation' | 'areas'>>,
): Outcome<AddressReading[]> {
  const own = readAddress(text, { notation, areas });
  return own.ok ? own : readAddress(text, { areas });
}

/** A bit of a register may follow after a point; `40108.3` is bit 3. */
function splitBit(text: string): { whole: string; bit: number | null } {
  const parts = /^(.*[0-9A-Fa-f])\.(\d{1,2})$/.exec(text);
  return parts ? { whole: parts[1]!, bit: Number(parts[2]) } : { whole: text, bit: null };
}

/** Under which notations a text is tried, the likeliest first. */
function likelihood(text: string): Notation[] {
  if (/^[0134]\d{4}$/.test(text) || /^(?:[134][xX]|[0134]:)\d{1,4}$/.test(text)) return ['area', 'reference5', 'pdu', 'number'];
  if (/^[0134]\d{5}$/.test(text) || /^(?:[134][xX]|[0134]:)\d{5}$/.test(text)) return ['area', 'reference6', 'pdu', 'number'];
  if (/^0+$/.test(text)) return ['pdu'];
  if (/^\d+$/.test(text)) return ['area', 'pdu', 'number'];
  return ['area', 'hex'];
}

function attempt(notation: Notation, text: string, areas: readonly Area[]): Attempt {
  switch (notation) {
    case 'pdu':
      return plain(text, 'pdu', 0);
    case 'number':
      return plain(text, 'number', 1);
    case 'hex':
      return hex(text);
    case 'reference5':
      return reference(text, 'reference5', 4);
    case 'reference6':
      return reference(text, 'reference6', 5);
    case 'area': {
      const place = fromArea(text, areas) ?? likeAnArea(text, areas);
      if (place === null || typeof place === 'string' || 'why' in place) return place;
      return {
        ...place,
        notation,
        why: `${text} is the controller’s own name for the ${tableNames[place.table].one} at offset ${place.offset}.`,
      };
    }
  }
}

/** A letter that is a hex digit may be that of an area of which nothing is known here. */
function likeAnArea(text: string, areas: readonly Area[]): AddressReading | null {
  const [, letter, number] = /^([A-Fa-f])(\d{1,5})$/.exec(text) ?? [];
  if (!letter || areas.length > 0 || Number(number) > LAST_OFFSET) return null;
  const why = `${letter} could be an area of a controller: word ${Number(number)} of it, at this offset if the area begins at 0.`;
  return { table: null, offset: Number(number), bit: null, notation: 'area', why };
}

function plain(text: string, notation: 'pdu' | 'number', base: 0 | 1): Attempt {
  if (!/^\d+$/.test(text)) return null;
  const offset = Number(text) - base;
  if (offset < 0) return `One-based numbers start at 1; ${text} is none. If the papers count from 0, it is a zero-based offset.`;
  if (offset > LAST_OFFSET) {
    return `${text} is past the end: ${base ? `numbers end at ${LAST_OFFSET + 1}` : `zero-based offsets end at ${LAST_OFFSET}`}.`;
  }
  const why = base
    ? `Counted from 1: register ${Number(text)} is offset ${offset}.`
    : `Counted from 0, as on the wire: offset ${offset} is register ${offset + 1}.`;
  return { table: null, offset, bit: null, notation, why };
}

function hex(text: string): Attempt {
  const digits =
    /^(?:0x|16#|\$)([0-9a-f]+)$/i.exec(text)?.[1] ?? /^([0-9a-f]+)h$/i.exec(text)?.[1] ?? /^(?=.*[a-f])([0-9a-f]{1,4})$/i.exec(text)?.[1];
  const bare = digits ?? /^[0-9]{1,4}$/.exec(text)?.[0];
  if (!bare) return null;
  const offset = parseInt(bare, 16);
  if (offset > LAST_OFFSET) return `${text} is offset ${offset}; a table ends at 0xFFFF, ${LAST_OFFSET}.`;
  return { table: null, offset, bit: null, notation: 'hex', why: `Hex ${bare.toUpperCase()} is offset ${offset}, counted from 0.` };
}

/** `40108` or `4x0108`: the first digit tells the table, the others count from 1. `0x` is hex and never coils; those are `0:`. */
function reference(text: string, notation: 'reference5' | 'reference6', digits: 4 | 5): Attempt {
  const spelt =
    new RegExp(`^([134](?=[xX])|[0134](?=:))[xX:](\\d{1,${digits}})$`).exec(text) ?? new RegExp(`^(\\d)(\\d{${digits}})$`).exec(text);
  if (!spelt) return /^\d+$/.test(text) ? `A ${notationNames[notation]} has ${digits + 1} digits; ${text} has ${text.length}.` : null;
  const table = tableOfDigit(spelt[1]!);
  if (!table) return `A reference starts with 0, 1, 3 or 4; ${text} starts with ${spelt[1]}.`;
  const number = Number(spelt[2]);
  const first = `${spelt[1]}${'1'.padStart(digits, '0')}`;
  if (number === 0) return `${text} would be ${tableNames[table].one} 0, but references count from 1: the first is ${first}.`;
  const last = `${spelt[1]}${digits === 4 ? '9999' : '65536'}`;
  if (number > LAST_OFFSET + 1) return `${text} is past the end: references of ${tableNames[table].many} end at ${last}.`;
  const why = `${spelt[1]} at the front means ${tableNames[table].many}; the rest counts from 1, so ${number} is offset ${number - 1}.`;
  return { table, offset: number - 1, bit: null, notation, why };
}

function otherwise({ notation, offset }: AddressReading): string {
  const one = notation === 'number' ? 'a one-based number' : 'a zero-based offset';
  return `If ${one} is meant, choose that notation: it is then offset ${offset}.`;
}
