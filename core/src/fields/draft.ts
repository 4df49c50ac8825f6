import { type Table, tableNames } from '../address/index.js';
import { PointBody } from '../model/index.js';
import { schemaProblem } from '../outcome/index.js';
import type { ByteOrder } from '../value/index.js';
import type { FieldContext, Row } from './definition.js';
import { fieldOf, type MapField, mapFields } from './list.js';

export interface DraftProblem {
  field: MapField | null;
  message: string;
}

export interface DraftOptions extends FieldContext {
  /** The table where neither the address nor a column tells one. */
  table: Table;
  /** The order of 32- and 64-bit values where no column tells one. */
  order: ByteOrder;
}

/** What of a row was not understood; `word` is the cell where a word of it would settle that. */
export interface OpenQuestion extends DraftProblem {
  word: string | null;
}

/** What a row says of a point: the point, or why it is left out; what is open or remarked is said, and the row is taken. */
export interface Draft {
  draft: PointBody | null;
  problems: DraftProblem[];
  open: OpenQuestion[];
  remarks: string[];
}

/** Lets each field take its cell of a row. Nothing in a cell is ever run: a formula is text like any other. */
export function draftPoint(cell: (field: MapField) => string, { notation, areas, table, order }: DraftOptions): Draft {
  const problems: DraftProblem[] = [];
  const open: OpenQuestion[] = [];
  const remarks: string[] = [];
  let taking: MapField = 'name';
  const row: Row = {
    ...{ notation, areas, usual: { table, order }, place: null },
    cell: (field) => cell(field as MapField),
    draft: {
      ...{ name: '', note: '', table, offset: 0, bit: null, type: 'uint16', order, length: null, encoding: null, scale: null },
      ...{ unit: '', access: 'read', bits: [], codes: [], setting: null },
    },
    fail: (message) => void problems.push({ field: taking, message }),
    open: (message, word) => void open.push({ field: taking, message, word: word ?? null }),
    remark: (message) => void remarks.push(message),
  };
  for (const field of mapFields) {
    taking = field;
    fieldOf(field).take(row);
  }
  row.draft.name ||= `${tableNames[row.draft.table].one} ${cell('address')}`;
  if (problems.length) return { draft: null, problems, open, remarks };
  const parsed = PointBody.safeParse(row.draft);
  if (parsed.success) return { draft: parsed.data, problems, open, remarks };
  const { message, path } = schemaProblem(parsed.error);
  return { draft: null, problems: [{ field: speakerOf(path[0]), message }], open, remarks };
}

/** The field that is a part of a point, or else the first that speaks of it. */
function speakerOf(key: string | number | undefined): MapField | null {
  const speaks = (field: MapField) => (fieldOf(field).speaksOf as readonly unknown[]).includes(key);
  return mapFields.find((field) => field === key) ?? mapFields.find(speaks) ?? null;
}
