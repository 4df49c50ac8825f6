import { formatAddress, isBitTable, type Notation, readAddress, type Area, type AddressReading } from '../address/index.js';
import type { Point } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { type FieldContext, type FieldDefinition, headedBy, shareOf, type Typed } from './definition.js';
import { inTable } from './in-table.js';

const readable = shareOf((cell) => readAddress(firstOf(cell)).ok || /^[A-Za-z%]{1,4}\d+(\.\d+)?$/.test(cell));

export const address: FieldDefinition<'address'> = {
  name: 'address',
  headers: headedBy(
    'address addresses addr adr adresse adressen register registers reg regs offset location registre registres registro registri dirección direccion indirizzo dec hex coil coils registeradresse startadresse registernummer registernr',
    'input inputs holding discrete modbus plc start starting first pdu protocol data no nr number nummer num n° nº de di du del decimal dezimal dez hexadecimal décimal hexadécimal range dec/hex zero one based relative base 0 1 inicial iniziale départ',
  ),
  content: { rank: 2, enough: 0.7, share: (cells) => readable(cells) * (new Set(cells).size / Math.max(1, cells.length)) },
  speaksOf: ['table', 'offset', 'bit'],
  take: (row) => {
    const written = row.cell('address');
    const read = written ? readCell(written, row.notation, row.areas) : bad('No address.');
    if (!read.ok) return row.fail(read.problem.message);
    row.place = read.value;
    row.draft.offset = read.value.offset;
  },
  cell: {
    label: 'Address',
    characters: 8,
    isShown: true,
    isCode: true,
    text: (point, { notation, areas }) => formatAddress(point, notation, areas),
    type: typeAddress,
  },
  csv: { head: 'offset', text: ({ offset }) => String(offset) },
};

function typeAddress(point: Point, typed: string, { notation, areas }: FieldContext): Outcome<Typed> {
  const here = readAddress(typed, { notation, areas });
  // Zero is no number where one counts from one; to take it for an offset would be a guess in silence.
  if (!here.ok && /^0+$/.test(typed)) return here;
  const any = here.ok ? here : readAddress(typed, { areas });
  if (!any.ok) return any;
  const others = readAddress(typed, { areas, ...(any.value[0]!.table ? {} : { table: point.table }) });
  const [chosen] = any.value;
  const readings = others.ok
    ? others.value.filter((other) => other.offset !== chosen!.offset || (other.table ?? point.table) !== (chosen!.table ?? point.table))
    : [];
  return good({ fields: fieldsAt(point, chosen!), readings });
}

/** What changes of a point at another place, as a reading says it. */
export function fieldsAt(point: Point, { table, offset, bit }: Pick<AddressReading, 'table' | 'offset' | 'bit'>): Partial<Point> {
  const moved = table && table !== point.table ? { ...point, ...inTable(point, table) } : point;
  const inRegister = !isBitTable(moved.table);
  if (bit !== null && inRegister) return { ...moved, offset, bit, type: 'bit', scale: null, length: null, encoding: null };
  return { ...moved, offset, ...(moved.type === 'bit' && inRegister ? { bit: moved.bit ?? 0 } : {}) };
}

/** One cell in the notation of its column; where that cannot read it, in the next longer one. */
export function readCell(cell: string, notation: Notation, areas: readonly Area[]): Outcome<AddressReading> {
  const text = firstOf(cell);
  const asColumn = readAddress(text, { notation, areas });
  if (asColumn.ok) return good(asColumn.value[0]!);
  // Five digits end at 9998; papers go on with six.
  const six = notation === 'reference5' ? readAddress(text, { notation: 'reference6' }) : null;
  return six?.ok ? good(six.value[0]!) : asColumn;
}

/** The first address of a range as manuals write it: `40001-40002`, `40001…40002`, `40001/40002`. */
export function firstOf(cell: string): string {
  return rangeIn(cell)?.first ?? cell.trim();
}

/** The last address of such a range; null where only one is written. */
export function lastOf(cell: string): string | null {
  return rangeIn(cell)?.last ?? null;
}

const BETWEEN = /[-–…/]|\.{2,3}|to|bis/;

function rangeIn(cell: string): { first: string; last: string } | null {
  const text = cell.trim();
  const between = BETWEEN.exec(text);
  if (!between) return null;
  const [first, last] = [text.slice(0, between.index).trim(), text.slice(between.index + between[0].length).trim()];
  return first && last && !/\s/.test(first + last) ? { first, last } : null;
}
