import { type Area, Notation, notationNames, Table } from '../address/index.js';
import { type Change, isSame, type Point, type PointBody, bodyOf } from '../model/index.js';
import { ByteOrder } from '../value/index.js';
import * as z from 'zod';
import { draftPoint, type DraftProblem, fieldOf, type MapField, mapFields } from '../fields/index.js';
import { recognise } from './columns.js';
import { csvFields, csvHeader, csvRow, unmarkText } from './map-csv.js';
import { guessNotation } from './notation.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** Lines of text in columns, with the line of the file at which each row stands. */
export interface TextTable {
  rows: string[][];
  /** Zero-based rows to lines of the file, from 1; rows are lines where it is left out. */
  lines?: number[];
}

/** What a person chose where the recognition is not right. */
export const MapOptions = z.strictObject({
  /** A field, or null for none, for each column. */
  fields: z.array(z.enum(mapFields).nullable()).max(200).optional(),
  notation: Notation.optional(),
  table: Table.default('holding'),
  order: ByteOrder.default('ABCD'),
});
export type MapOptions = z.infer<typeof MapOptions>;

export interface MapHome {
  projectId: string;
  deviceId: string;
  notation: Notation;
  areas: readonly Area[];
  /** What the device has already. */
  points: readonly Point[];
}

/** What becomes of one row: a new point, another form of one that is there, the same as is there, or nothing. */
export type RowFate = 'adds' | 'changes' | 'same' | 'problem';

export interface MapRow {
  line: number;
  cells: string[];
  fate: RowFate;
  /** The point that it would change. */
  before: Point | null;
  /** The point as it would be. */
  draft: PointBody | null;
  problems: DraftProblem[];
  remarks: string[];
}

export interface MapReading {
  header: string[] | null;
  fields: (MapField | null)[];
  notation: Notation;
  /** How the table was understood, in sentences. */
  why: string[];
  rows: MapRow[];
  counts: Record<RowFate, number>;
}

export const MAX_COLUMNS = 200;
export const MAX_ROWS = 65_536 * 2;

/**
 * Reads a table of registers, in whatever columns and notation it is written, against what the device has already: a row
 * with the name of one point changes that point, others add. Nothing is changed here; each row says what would become of it.
 */
export function readMap({ rows, lines }: TextTable, home: MapHome, options: MapOptions): Outcome<MapReading> {
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

  const body = rows
    .map((cells, index) => ({ cells, line: lines?.[index] ?? index + 1, index }))
    .slice(known.headerAt === null ? 0 : known.headerAt + 1);
  const written = body.map(({ cells }) => (cells[addressAt] ?? '').trim());
  const guess = guessNotation(written, header?.[addressAt] ?? '', home.notation, home.areas);
  const notation = options.notation ?? guess.notation;
  const drafts = body
    .filter(({ cells }) => !isRemark(cells, addressAt))
    .map(({ cells, line }) => {
      const cell = (field: MapField) => unmarkText((cells[fields.indexOf(field)] ?? '').trim());
      return { line, cells, ...draftPoint(cell, { notation, areas: home.areas, table: options.table, order: options.order }) };
    });
  const match = matcher(home.points);
  const told = drafts.map((draft): MapRow => {
    if (!draft.draft) return { ...draft, fate: 'problem', before: null };
    const before = match(draft.draft) ?? null;
    const merged = before ? merge(before, draft.draft, fields) : draft.draft;
    return { ...draft, draft: merged, before, fate: !before ? 'adds' : isSame({ ...before, ...merged }, before) ? 'same' : 'changes' };
  });
  sayTwice(told);
  const counts: MapReading['counts'] = { adds: 0, changes: 0, same: 0, problem: 0 };
  for (const row of told) counts[row.fate] += 1;
  const why = [
    header ? `Row ${known.headerAt! + 1} names the columns.` : 'No row names the columns; they are told by what is in them.',
    options.notation
      ? `The addresses are read as you chose: ${notationNames[notation]}.`
      : `Each address is a ${notationNames[notation]}. ${guess.why}`,
  ];
  return good({ header, fields, notation, why, rows: told, counts });
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
  const counts: MapReading['counts'] = { adds: 0, changes: 0, same: 0, problem: 0 };
  const rows = entries.map(({ name, line, body }, index): MapRow => {
    const at = { line: line ?? index + 1, remarks: [] };
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
    const cells = csvRow({ ...body.value, id: '', projectId, deviceId, releasedBy: null, watchdogMs: null });
    return { ...at, cells, fate, before, draft: body.value, problems: [] };
  });
  sayTwice(rows);
  for (const { fate } of rows) counts[fate] += 1;
  return { header: [...csvHeader], fields: [...csvFields], notation: 'pdu', why: [], rows, counts };
}

/** The changes that put the rows of a reading into the map. */
export function mapChanges({ rows }: Pick<MapReading, 'rows'>, { projectId, deviceId }: MapHome, newId: () => string): Change[] {
  return rows.flatMap(({ draft, fate, before }): Change[] => {
    if (!draft || fate === 'problem' || fate === 'same') return [];
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

/** Blank rows, and headings inside a table: something is written, but no address. */
function isRemark(cells: readonly string[], addressAt: number): boolean {
  const filled = cells.filter((cell) => cell.trim()).length;
  return filled === 0 || (filled <= 2 && !/\d/.test(cells[addressAt] ?? ''));
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
