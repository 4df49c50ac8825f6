import { type Area, isBitTable, isWritable, LAST_OFFSET, type Notation, readAddress, type Table, tableNames } from '../address/index.js';
import { PointBody, pointWidth } from '../model/index.js';
import { ByteOrder, numberOf, readNamed, readScale, type Scale } from '../value/index.js';
import { lastOf, type MapField } from './columns.js';
import { readCell } from './notation.js';
import { readAccess, readOrder, readTable, readType } from './words.js';
import { schemaProblem, type Outcome } from '../outcome/index.js';
import { Encoding, hasFreeLength, isText, isNumeric, PointType, likeliestOf } from '../types/index.js';

export interface DraftProblem {
  field: MapField | null;
  message: string;
}

export interface DraftOptions {
  notation: Notation;
  areas: readonly Area[];
  /** The table where neither the address nor a column tells one. */
  table: Table;
  /** The order of 32- and 64-bit values where no column tells one. */
  order: ByteOrder;
}

/**
 * What a row of cells says of a point. Problems keep the row out; remarks are said and the row is taken.
 * Nothing in a cell is ever run: a formula is text like any other.
 */
export function draftPoint(
  cell: (field: MapField) => string,
  options: DraftOptions,
): { draft: PointBody | null; problems: DraftProblem[]; remarks: string[] } {
  const problems: DraftProblem[] = [];
  const remarks: string[] = [];
  const fail = (field: MapField | null, message: string) => void problems.push({ field, message });
  const take = <T>(field: MapField, read: Outcome<T>, otherwise: T): T => {
    if (read.ok) return read.value;
    fail(field, read.problem.message);
    return otherwise;
  };

  const written = cell('address');
  const reading = written ? readCell(written, options.notation, options.areas) : 'No address.';
  if (typeof reading === 'string') fail('address', reading);
  const place = typeof reading === 'string' ? { table: null, offset: 0, bit: null } : reading;

  const typeText = cell('type');
  const typed = typeText ? readType(typeText) : null;
  if (typeText && !typed) fail('type', `“${typeText}” is no type that is known.`);

  const tableText = cell('table');
  const told = tableText ? readTable(tableText) : null;
  if (tableText && !told) fail('table', `“${tableText}” is no table.`);
  if (told && place.table && told !== place.table)
    fail('table', `${written} is a ${tableNames[place.table].one}, but the row says ${tableNames[told].one}.`);
  const table = place.table ?? told ?? options.table;

  const bitText = cell('bit');
  const bit = bitText ? numberOf(bitText) : place.bit;
  const count = lengthOf(cell('length'), written, typeof reading === 'string' ? null : place.offset, options, (message) =>
    fail('length', message),
  );
  const type = isBitTable(table) ? 'bit' : (typed?.type ?? (bit !== null ? 'bit' : typeOfCount(count)));
  if (isBitTable(table) && typed && typed.type !== 'bit') fail('type', `A ${tableNames[table].one} is one bit; the row says ${typeText}.`);
  if (!isBitTable(table) && type === 'bit' && bit === null)
    fail('bit', `A ${tableNames[table].one} has 16 bits; the row does not say which one.`);

  const free = hasFreeLength(type);
  const length = free ? (typed?.length ?? count) : null;
  if (isText(type) && length === null) fail('length', 'How many registers the text takes is not said.');

  const orderText = cell('order');
  const order = orderText ? readOrder(orderText) : null;
  if (orderText && !order) fail('order', `“${orderText}” is no byte order.`);

  const accessText = cell('access');
  const access = accessText ? readAccess(accessText) : null;
  if (accessText && !access) fail('access', `“${accessText}” is neither read nor write.`);
  if (access && access !== 'read' && !isWritable(table))
    remarks.push(`No function writes ${tableNames[table].many}; it is taken as read only.`);

  const encodingText = cell('encoding').toLowerCase();
  const encoding = Encoding.safeParse(encodingText === 'latin-1' ? 'latin1' : encodingText);
  if (encodingText && !encoding.success) fail('encoding', `“${encodingText}” is none of ${Encoding.options.join(', ')}.`);

  const scale = isNumeric(type) ? take('scale', scaleOf(cell), null) : null;
  const named = (field: 'bits' | 'codes') => (cell(field) ? take(field, readNamed(cell(field)), []) : []);
  const name = cell('name').replace(/[\r\n\t]+/g, ' ') || `${tableNames[table].one} ${written}`;
  if (name.length > 80) remarks.push('The name is longer than 80 characters; the whole stands in the note.');
  const noteText = cell('note');

  const wide = type !== 'bit' && !free ? pointWidth({ type, length: null }) : 1;
  // Manuals count registers, bytes or bits.
  if (typed && !free && type !== 'bit' && count !== null && ![wide, wide * 2, wide * 16].includes(count))
    fail('length', `${type} takes ${wide} register${wide === 1 ? '' : 's'}; the row says ${count}.`);

  const draft = {
    name: name.slice(0, 80).trim(),
    note: (name.length > 80 ? `${name}\n${noteText}` : noteText).trim().slice(0, 2000),
    table,
    offset: place.offset,
    bit: isBitTable(table) || type !== 'bit' ? null : bit,
    type,
    order: order ?? typed?.order ?? (wide > 1 ? options.order : 'ABCD'),
    length,
    encoding: isText(type) ? (encoding.data ?? null) : null,
    scale,
    unit: cell('unit').slice(0, 20),
    access: isWritable(table) ? (access ?? 'readWrite') : 'read',
    bits: named('bits').map(({ number, name: of }) => ({ bit: number, name: of })),
    codes: named('codes').map(({ number, name: of }) => ({ value: number, name: of })),
  };
  if (problems.length) return { draft: null, problems, remarks };
  const parsed = PointBody.safeParse(draft);
  if (parsed.success) return { draft: parsed.data, problems, remarks };
  const { message, path } = schemaProblem(parsed.error);
  const field = path[0] === 'offset' ? 'address' : (path[0] as MapField | undefined);
  return { draft: null, problems: [{ field: field ?? null, message }], remarks };
}

/** Manuals count registers or bits; one register where the row does not say. */
function typeOfCount(count: number | null): PointType {
  return likeliestOf(count ?? 1, 'whole') ?? likeliestOf((count ?? 16) / 16, 'whole') ?? 'uint16';
}

/** Registers that the row says: in a column of its own, or by a range of addresses. */
function lengthOf(
  text: string,
  written: string,
  offset: number | null,
  { notation, areas }: DraftOptions,
  fail: (message: string) => void,
): number | null {
  if (text) {
    const count = /^(\d+)\s*(?:bits?|bytes?|words?|registers?)?$/i.exec(text);
    if (!count) fail(`“${text}” is no number of registers.`);
    return count && Number(count[1]);
  }
  const last = lastOf(written);
  if (last === null || offset === null) return null;
  const end = readAddress(last, { notation, areas });
  return end.ok && end.value[0]!.offset >= offset && end.value[0]!.offset <= LAST_OFFSET ? end.value[0]!.offset - offset + 1 : null;
}

function scaleOf(cell: (field: MapField) => string): Outcome<Scale | null> {
  const [scale, divisor, decimals] = [cell('scale'), cell('divisor'), cell('decimals')];
  if (scale) return readScale(scale);
  if (divisor) return readScale(`/${divisor}`);
  if (!decimals) return { ok: true, value: null };
  const digits = Number(decimals);
  return Number.isInteger(digits) && Math.abs(digits) <= 9
    ? readScale(`1e${-Math.abs(digits)}`)
    : { ok: false, problem: { message: `“${decimals}” is no number of decimals.`, path: [] } };
}
