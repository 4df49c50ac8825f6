import { atRegister } from '../place/index.js';
import { type Area, Notation, notationNames, readAddress, Table, tableNames } from '../address/index.js';
import { type Change, isSame, type Point, type PointBody, bodyOf } from '../model/index.js';
import { ByteOrder } from '../value/index.js';
import * as z from 'zod';
import {
  type Draft,
  draftPoint,
  type DraftProblem,
  fieldOf,
  firstOf,
  type MapField,
  mapFields,
  type OpenQuestion,
} from '../fields/index.js';
import type { PlaceOnPage } from '../pages/index.js';
import { recognise } from './columns.js';
import { csvFields, csvHeader, csvRow, unmarkText } from './map-csv.js';
import { guessNotation } from './notation.js';
import { joinRow, readRunningText, tableIn, tellOpen } from './sub-rows.js';
import { type KnownWord, translated } from './words.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** Lines of text in columns, with the line of the file at which each row stands. */
export interface TextTable {
  rows: string[][];
  /** Zero-based rows to lines of the file, from 1; rows are lines where it is left out. */
  lines?: number[];
  /** Tables of which it is made, where it is made of several: their rows follow the first, which names the columns of all. */
  parts?: TablePart[];
  /** Where on the pages of a document each row is. */
  places?: (PlaceOnPage | null)[];
  /** What is unsure of each row, as it was read. */
  doubts?: string[][];
}

/** A table of a document: rows `from` to before `to`, and what stands over it. */
export interface TablePart {
  title: string;
  from: number;
  to: number;
  /** How it names its columns, each where the whole has it. */
  header: string[];
}

/** What a person chose where the recognition is not right. */
export const MapOptions = z.strictObject({
  /** A field, or null for none, for each column. */
  fields: z.array(z.enum(mapFields).nullable()).max(200).optional(),
  notation: Notation.optional(),
  table: Table.default('holding'),
  order: ByteOrder.default('ABCD'),
  /** Parts of the table that are left out, counted from 0. */
  without: z.array(z.int().min(0)).max(1000).default([]),
});
export type MapOptions = z.infer<typeof MapOptions>;

export interface MapHome {
  projectId: string;
  deviceId: string;
  notation: Notation;
  areas: readonly Area[];
  /** What the device has already. */
  points: readonly Point[];
  /** What a person has said that words of manuals mean. */
  words?: readonly KnownWord[];
}

/**
 * What becomes of one row: a new point, another form of one that is there, the same as is there; a part of the row above it; nothing,
 * because it has no address and was not understood, or because what it says cannot be.
 */
export type RowFate = 'adds' | 'changes' | 'same' | 'joins' | 'apart' | 'problem';

export interface MapRow {
  line: number;
  cells: string[];
  fate: RowFate;
  /** The point that it would change. */
  before: Point | null;
  /** The point as it would be. */
  draft: PointBody | null;
  problems: DraftProblem[];
  /** What of it was not understood; the row is taken without it, and its note says so. */
  open: OpenQuestion[];
  remarks: string[];
  /** Where on a page it is. */
  place: PlaceOnPage | null;
}

export interface MapReading {
  header: string[] | null;
  fields: (MapField | null)[];
  notation: Notation;
  /** How the table was understood, in sentences. */
  why: string[];
  rows: MapRow[];
  counts: Record<RowFate, number>;
  /** Words that were not understood. */
  unknown: UnknownWord[];
}

/** A word in a column that is not known, and in how many rows it stands. */
export interface UnknownWord {
  field: MapField;
  word: string;
  rows: number;
}

export const MAX_COLUMNS = 200;
export const MAX_ROWS = 65_536 * 2;

/**
 * Reads a table of registers, in whatever columns and notation it is written, against what the device has already: a row
 * with the name of one point changes that point, others add. Nothing is changed here; each row says what would become of it.
 */
export function readMap({ rows, lines, parts, places, doubts }: TextTable, home: MapHome, options: MapOptions): Outcome<MapReading> {
  const wide = Math.max(0, ...rows.slice(0, 1000).map((row) => row.length));
  if (wide > MAX_COLUMNS)
    return bad(`It has ${wide} columns; a table of registers has at most ${MAX_COLUMNS}. Another separator may be meant.`);
  if (rows.length > MAX_ROWS) return bad(`It has ${rows.length} rows; at most ${MAX_ROWS} are read at a time.`);
  const known = recognise(rows);
  const fields = options.fields ?? known.fields;
  const header = known.headerAt === null ? null : rows[known.headerAt]!;
  const addressAt = fields.indexOf('address');
  const missing =
    addressAt < 0
      ? 'no column holds addresses'
      : fields.indexOf('name') < 0 && fields.indexOf('type') < 0
        ? 'no column holds names or types'
        : null;
  if (missing) return bad(`${readAs(rows, header)}, but ${missing}.`, 'fields');

  const all = rows
    .map((cells, index) => ({ cells, line: lines?.[index] ?? index + 1, index }))
    .slice(known.headerAt === null ? 0 : known.headerAt + 1);
  const inParts = (parts ?? [{ title: '', from: 0, to: rows.length, header: header ?? [] }]).flatMap((part, index) =>
    options.without.includes(index) ? [] : { ...part, body: all.filter((row) => row.index >= part.from && row.index < part.to) },
  );
  const notations = inParts.map(({ body, header: names }) => {
    const written = body.map(({ cells }) => (cells[addressAt] ?? '').trim()).filter((text) => mayBeAddress(text, home));
    return guessNotation(written, names[addressAt] ?? '', home.notation, home.areas);
  });
  const toldTo: RowsTo = { fields, addressAt, home, options };
  const told = inParts.flatMap(({ title, body, header: names }, index) => {
    const notation = options.notation ?? notations[index]!.notation;
    return draftsOf(body, { ...toldTo, notation, table: tableIn(title) ?? tableIn(names[addressAt] ?? '') ?? options.table }).map(
      (row) => ({
        ...row,
        remarks: [...(doubts?.[row.index] ?? []), ...row.remarks],
        place: places?.[row.index] ?? null,
      }),
    );
  });
  const match = matcher(home.points);
  const settled = told.map(({ index, ...row }): MapRow => {
    if (row.fate) return { ...row, fate: row.fate, draft: null, before: null };
    if (!row.draft) return { ...row, fate: 'problem', before: null };
    const draft = tellOpen(row.draft, row.open);
    const before = match(draft) ?? null;
    const merged = before ? merge(before, draft, fields) : draft;
    return { ...row, draft: merged, before, fate: !before ? 'adds' : isSame({ ...before, ...merged }, before) ? 'same' : 'changes' };
  });
  sayTwice(settled);
  const counts = countsOf(settled);
  const [first] = notations;
  const notation = options.notation ?? first?.notation ?? home.notation;
  const others = new Set(notations.map((guess) => guess.notation));
  const why = [
    header ? `Row ${known.headerAt! + 1} names the columns.` : 'No row names the columns; they are told by what is in them.',
    options.notation
      ? `The addresses are read as you chose: ${notationNames[notation]}.`
      : others.size > 1
        ? `Tables write addresses differently, and each is read as it writes them: ${[...others].map((other) => notationNames[other]).join(', ')}.`
        : `Each address is a ${notationNames[notation]}. ${first?.why ?? ''}`.trim(),
  ];
  return good({ header, fields, notation, why, rows: settled, counts, unknown: unknownIn(settled) });
}

interface RowsTo {
  fields: readonly (MapField | null)[];
  addressAt: number;
  home: MapHome;
  options: MapOptions;
}

/** A row before it is laid beside what is there: what it gives, or what has become of it already. */
type Told = Draft & { line: number; cells: string[]; index: number; fate: 'joins' | 'apart' | null };

/** Fields of which a cell may have several lines that are to be kept apart. */
const manyLined: ReadonlySet<MapField> = new Set(['name', 'note', 'bits', 'codes']);

/** Lets each row become a point, or part of the one above it. */
function draftsOf(
  body: readonly { cells: string[]; line: number; index: number }[],
  { fields, addressAt, home, options, notation, table }: RowsTo & { notation: Notation; table: Table },
): Told[] {
  const told: Told[] = [];
  let [above, usual]: [Told | null, Table] = [null, table];
  for (const row of body) {
    if (row.cells.every((text) => !text.trim())) continue;
    const cell = (field: MapField) => {
      const text = unmarkText((row.cells[fields.indexOf(field)] ?? '').trim());
      return translated(home.words, field, manyLined.has(field) ? text : text.replaceAll('\n', ' '));
    };
    if (!mayBeAddress((row.cells[addressAt] ?? '').trim(), home)) {
      const joined = joinRow(above?.draft ? above : null, row.cells, fields);
      const changed = joined.fate === 'apart' ? tableIn(row.cells.join(' ')) : null;
      usual = changed ?? usual;
      const remarks = changed ? [`From here on they are ${tableNames[changed].many}.`] : joined.remarks;
      told.push({ ...row, draft: null, problems: [], open: [], remarks, fate: joined.fate });
      continue;
    }
    const drafted = draftPoint(cell, { notation, areas: home.areas, table: usual, order: options.order });
    above = { ...row, ...drafted, fate: null };
    if (above.draft) readRunningText(above, fields);
    told.push(above);
  }
  return told;
}

/** A number without words, or what a controller's own areas call a register. */
function mayBeAddress(text: string, { areas }: MapHome): boolean {
  const words = text.replace(/\b(?:bis|hex)\b/gi, '');
  if (/\d/.test(text) && !/[A-Za-zÀ-ÿ]{3}/.test(words)) return true;
  return areas.length > 0 && readAddress(firstOf(text), { areas, notation: 'area' }).ok;
}

function countsOf(rows: readonly MapRow[]): MapReading['counts'] {
  const counts: MapReading['counts'] = { adds: 0, changes: 0, same: 0, joins: 0, apart: 0, problem: 0 };
  for (const { fate } of rows) counts[fate] += 1;
  return counts;
}

/** The words that nobody has said the meaning of yet, the most frequent first. */
function unknownIn(rows: readonly MapRow[]): UnknownWord[] {
  const found = new Map<string, UnknownWord>();
  for (const { field, word } of rows.flatMap(({ open }) => open)) {
    if (!field || word === null) continue;
    const key = `${field} ${word.toLowerCase()}`;
    const known = found.get(key);
    if (known) known.rows += 1;
    else found.set(key, { field, word, rows: 1 });
  }
  return [...found.values()].sort((a, b) => b.rows - a.rows).slice(0, 40);
}

/** Whether rows can be understood as a table of registers at all. */
export function recogniseTable(rows: readonly (readonly string[])[]): boolean {
  const { fields } = recognise(rows);
  return fields.includes('address') && (fields.includes('name') || fields.includes('type'));
}

/** The same for a file that tells points outright; its rows are shown in the columns of our own table. */
export function readEntries(
  entries: readonly { name: string; line: number | null; body: Outcome<PointBody> }[],
  { projectId, deviceId, points }: MapHome,
): MapReading {
  const match = matcher(points);
  const rows = entries.map(({ name, line, body }, index): MapRow => {
    const at = { line: line ?? index + 1, open: [], remarks: [], place: null };
    if (!body.ok)
      return {
        ...at,
        cells: [name],
        fate: 'problem',
        before: null,
        draft: null,
        problems: [{ field: null, message: body.problem.message }],
      };
    const before = match(body.value) ?? null;
    const fate = !before ? 'adds' : isSame(bodyOf(before), body.value) ? 'same' : 'changes';
    const cells = csvRow({ ...body.value, id: '', projectId, deviceId, releasedBy: null, watchdogMs: null, place: atRegister });
    return { ...at, cells, fate, before, draft: body.value, problems: [] };
  });
  sayTwice(rows);
  return { header: [...csvHeader], fields: [...csvFields], notation: 'pdu', why: [], rows, counts: countsOf(rows), unknown: [] };
}

/** The changes that put the rows of a reading into the map. */
export function mapChanges({ rows }: Pick<MapReading, 'rows'>, { projectId, deviceId }: MapHome, newId: () => string): Change[] {
  return rows.flatMap(({ draft, fate, before }): Change[] => {
    if (!draft || (fate !== 'adds' && fate !== 'changes')) return [];
    const id = before?.id ?? newId();
    return [
      {
        entity: 'point',
        id,
        before,
        after: { ...draft, id, projectId, deviceId, releasedBy: before?.releasedBy ?? null, watchdogMs: before?.watchdogMs ?? null },
      },
    ];
  });
}

/** Why a reading adds nothing, in words; null where it does add something. */
export function emptyReason({ counts, rows }: MapReading): string | null {
  if (counts.adds + counts.changes > 0) return null;
  if (counts.same > 0 && counts.problem === 0) return `All ${counts.same} rows are in the map already, exactly like this.`;
  const first = rows.find(({ problems }) => problems.length);
  return first ? `No row fitted: line ${first.line}: ${first.problems[0]!.message}` : 'No row holds a register.';
}

function readAs(rows: readonly (readonly string[])[], header: readonly string[] | null): string {
  const columns = Math.max(0, ...rows.slice(0, 1000).map((row) => row.length));
  const named = header ? ` (${header.filter(Boolean).slice(0, 6).join(', ')})` : '';
  return `${rows.length} row${rows.length === 1 ? ' was' : 's were'} read in ${columns} column${columns === 1 ? '' : 's'}${named}`;
}

/** Finds the point that a draft would change: the only one with its name, each at most once. */
function matcher(points: readonly Point[]): (draft: PointBody) => Point | undefined {
  const byName = new Map<string, Point[]>();
  for (const point of points) {
    const named = byName.get(point.name);
    if (named) named.push(point);
    else byName.set(point.name, [point]);
  }
  const taken = new Set<string>();
  return (draft) => {
    const named = (byName.get(draft.name) ?? []).filter(({ id }) => !taken.has(id));
    const at = named.find(({ table, offset, bit }) => table === draft.table && offset === draft.offset && bit === draft.bit);
    const found = at ?? (named.length === 1 ? named[0] : undefined);
    if (found) taken.add(found.id);
    return found;
  };
}

/** Says of each row whose name or place another row has as well. */
function sayTwice(rows: readonly MapRow[]): void {
  const [names, places] = [new Map<string, MapRow>(), new Map<string, MapRow>()];
  for (const row of rows) {
    if (!row.draft) continue;
    const { name, table, offset, bit } = row.draft;
    for (const [known, key, what] of [
      [names, name, 'the same name'],
      [places, `${table} ${offset} ${bit}`, 'the same address'],
    ] as const) {
      const first = known.get(key);
      if (!first) known.set(key, row);
      else row.remarks.push(`Line ${first.line} has ${what}.`);
    }
  }
}

/** What no column speaks of stays as it is. */
function merge(point: Point, draft: PointBody, fields: readonly (MapField | null)[]): PointBody {
  const before = bodyOf(point);
  if ((before.type === 'bit') !== (draft.type === 'bit')) return draft;
  const keys = new Set(fields.flatMap((field) => (field ? fieldOf(field).speaksOf : [])));
  const spoken = Object.fromEntries([...keys].map((key) => [key, draft[key]]));
  return { ...before, ...spoken, access: keys.has('access') || draft.access === 'read' ? draft.access : before.access };
}
