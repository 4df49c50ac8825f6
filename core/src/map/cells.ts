import {
  type Area,
  formatAddress,
  isBitTable,
  isWritable,
  type Notation,
  readAddress,
  type Reading,
  tableNames,
  tables,
} from '../address/index.js';
import { accessNames, readAccess, readOrder, readTable, readType } from '../format/index.js';
import { Point } from '../model/index.js';
import { namedText, readNamed, readScale, scaleText, shortOrder } from '../value/index.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';
import { Encoding, hasFreeLength, isNumeric, isText } from '../types/index.js';

/** The cells of a register map that can be written in. */
export const cellFields = [
  'name',
  'address',
  'table',
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
export type CellField = (typeof cellFields)[number];

export interface CellContext {
  notation: Notation;
  areas: readonly Area[];
}

/** What a cell of a point shows. */
export function cellText(point: Point, field: CellField, { notation, areas }: CellContext): string {
  switch (field) {
    case 'address':
      return formatAddress(point, notation, areas);
    case 'table':
      return tableNames[point.table].one;
    case 'bit':
    case 'length':
      return point[field] === null ? '' : String(point[field]);
    case 'order':
      return point.type === 'bit' ? '' : point.order;
    case 'encoding':
      return point.encoding ?? '';
    case 'scale':
      return scaleText(point.scale);
    case 'access':
      return accessNames[point.access];
    case 'bits':
      return namedText(point.bits.map(({ bit, name }) => ({ number: bit, name })));
    case 'codes':
      return namedText(point.codes.map(({ value, name }) => ({ number: value, name })));
    default:
      return point[field];
  }
}

/** A point with one cell written anew; `readings` are the other ways to understand an address, where there are any. */
export interface Written {
  point: Point;
  readings: Reading[];
}

/**
 * Writes text into a cell as a person types it. What follows from it is set as well: a coil is one bit, an input register can
 * only be read. Text that does not fit is a problem in a sentence, and the point stays as it was.
 */
export function writeCell(point: Point, field: CellField, text: string, context: CellContext): Outcome<Written> {
  const typed = text.trim();
  if (field === 'address') return writeAddress(point, typed, context);
  const changed = changeOf(point, field, typed);
  if (!changed.ok) return changed;
  return checked({ ...point, ...changed.value });
}

function writeAddress(point: Point, typed: string, { notation, areas }: CellContext): Outcome<Written> {
  const here = readAddress(typed, { notation, areas });
  // Zero is no number where one counts from one; to take it for an offset would be a guess in silence.
  if (!here.ok && /^0+$/.test(typed)) return here;
  const any = here.ok ? here : readAddress(typed, { areas });
  if (!any.ok) return any;
  const others = readAddress(typed, { areas, ...(any.value[0]!.table ? {} : { table: point.table }) });
  const written = placeAt(point, any.value[0]!);
  if (!written.ok) return written;
  const [chosen] = any.value;
  const readings = others.ok
    ? others.value.filter((other) => other.offset !== chosen!.offset || (other.table ?? point.table) !== (chosen!.table ?? point.table))
    : [];
  return good({ point: written.value.point, readings });
}

/** The point at another place: as a reading says it. */
export function placeAt(point: Point, { table, offset, bit }: Pick<Reading, 'table' | 'offset' | 'bit'>): Outcome<Written> {
  const moved = table && table !== point.table ? inTable(point, table) : point;
  const inRegister = !isBitTable(moved.table);
  if (bit !== null && inRegister) return checked({ ...moved, offset, bit, type: 'bit', scale: null, length: null, encoding: null });
  return checked({ ...moved, offset, ...(moved.type === 'bit' && inRegister ? { bit: moved.bit ?? 0 } : {}) });
}

function changeOf(point: Point, field: Exclude<CellField, 'address'>, typed: string): Outcome<Partial<Point>> {
  switch (field) {
    case 'name':
    case 'note':
    case 'unit':
      return good({ [field]: typed });
    case 'table': {
      const table = readTable(typed);
      return table
        ? good(inTable(point, table))
        : bad(`“${typed}” is no table; there are ${tables.map((name) => tableNames[name].many).join(', ')}.`);
    }
    case 'bit': {
      if (typed === '') return point.type === 'bit' && !isBitTable(point.table) ? good({ bit: null, type: 'uint16' }) : good({ bit: null });
      const bit = Number(typed);
      return Number.isInteger(bit) ? good({ bit, ...(isBitTable(point.table) ? {} : asBit) }) : bad(`“${typed}” is no bit.`);
    }
    case 'type': {
      const word = readType(typed);
      if (!word) return bad(`“${typed}” is no type that is known, such as int16, uint32 or float32.`);
      if (word.type === 'bit') return good(isBitTable(point.table) ? asBit : { ...asBit, bit: point.bit ?? 0 });
      const length = hasFreeLength(word.type) ? (word.length ?? point.length) : null;
      return good({
        type: word.type,
        bit: null,
        length,
        scale: isNumeric(word.type) ? point.scale : null,
        encoding: isText(word.type) ? point.encoding : null,
        order: word.order ?? shortOrder(point.order),
      });
    }
    case 'order': {
      const order = readOrder(typed);
      return order ? good({ order }) : bad(`“${typed}” is no byte order, such as ABCD, CDAB, BADC or DCBA.`);
    }
    case 'length': {
      if (typed === '') return good({ length: null });
      return /^\d+$/.test(typed) ? good({ length: Number(typed) }) : bad(`“${typed}” is no number of registers.`);
    }
    case 'encoding': {
      if (typed === '') return good({ encoding: null });
      const encoding = Encoding.safeParse(typed.toLowerCase());
      return encoding.success ? good({ encoding: encoding.data }) : bad(`“${typed}” is none of ${Encoding.options.join(', ')}.`);
    }
    case 'scale': {
      const scale = readScale(typed);
      if (!scale.ok) return scale;
      return scale.value && !isNumeric(point.type) ? bad(`${point.type} has no scale.`) : good({ scale: scale.value });
    }
    case 'access': {
      const access = readAccess(typed);
      return access ? good({ access }) : bad(`“${typed}” is none of read, write, read/write.`);
    }
    case 'bits': {
      const named = readNamed(typed);
      return named.ok ? good({ bits: named.value.map(({ number, name }) => ({ bit: number, name })) }) : named;
    }
    case 'codes': {
      const named = readNamed(typed);
      return named.ok ? good({ codes: named.value.map(({ number, name }) => ({ value: number, name })) }) : named;
    }
  }
}

const asBit = { type: 'bit', scale: null, length: null, encoding: null } as const;

/** The point moved to another table, with what that table forces on it. */
function inTable(point: Point, table: Point['table']): Point {
  const access = isWritable(table) ? (isWritable(point.table) ? point.access : 'readWrite') : 'read';
  if (isBitTable(table)) return { ...point, ...asBit, table, bit: null, access };
  const type = isBitTable(point.table) ? 'uint16' : point.type;
  return { ...point, table, type, access };
}

function checked(point: unknown): Outcome<Written> {
  const parsed = Point.safeParse(point);
  return parsed.success ? good({ point: parsed.data, readings: [] }) : { ok: false, problem: schemaProblem(parsed.error) };
}
