import { eq, inArray, sql } from 'drizzle-orm';
import type { EntityKind, ListedKind, Row } from '@plain-envoy/core/model';
import { schema, type Tables } from '../database/index.js';

/** The table of each kind that lives in a list. */
export const tableOf = {
  line: schema.lines,
  device: schema.devices,
  port: schema.ports,
  telegram: schema.telegrams,
  frame: schema.frames,
  point: schema.points,
  paper: schema.papers,
  round: schema.rounds,
  route: schema.routes,
  errand: schema.errands,
  watchList: schema.watchLists,
  variable: schema.variables,
  listProfile: schema.listProfiles,
} as const satisfies Record<ListedKind, unknown>;

const AT_A_TIME = 1000;

/** The rows of one kind of a project, in the order in which they were made. */
export async function rowsOf(db: Tables, kind: ListedKind, projectId: string): Promise<Row[]> {
  const table = tableOf[kind];
  const found = await db.select({ body: table.body }).from(table).where(eq(table.projectId, projectId)).orderBy(table.id);
  return found.map((row) => row.body);
}

/** The rows with these ids, whichever of them exist. */
export async function rowsById(db: Tables, kind: EntityKind, ids: readonly string[]): Promise<Map<string, Row>> {
  const table = kind === 'project' ? schema.projects : tableOf[kind];
  const found = new Map<string, Row>();
  for (const part of parts(ids)) {
    for (const row of await db.select({ id: table.id, body: table.body }).from(table).where(inArray(table.id, part)))
      found.set(row.id, row.body);
  }
  return found;
}

/** Ids of rows of `kind` whose body's `field` is one of `ids`. */
export async function referrers(db: Tables, kind: ListedKind, field: string, ids: readonly string[]): Promise<string[]> {
  const table = tableOf[kind] as typeof schema.routes;
  const column = table[field as 'sourceId'];
  const found: string[] = [];
  for (const part of parts(ids)) {
    const rows = await db.select({ id: table.id }).from(table).where(inArray(column, part));
    found.push(...rows.map((row) => row.id));
  }
  return found;
}

export async function putRows(
  db: Tables,
  kind: ListedKind,
  projectId: string,
  rows: readonly Row[],
  onProgress?: (written: number) => void,
): Promise<void> {
  const table = tableOf[kind];
  let written = 0;
  // One parameter for all rows of a part: with one for each value, thousands of rows take several times as long.
  for (const part of parts(rows)) {
    const bodies = JSON.stringify(part);
    await db.execute(sql`
      insert into ${table} (id, project_id, body)
      select (row->>'id')::uuid, ${projectId}::uuid, row from jsonb_array_elements(${bodies}::jsonb) as row
      on conflict (id) do update set body = excluded.body`);
    written += part.length;
    onProgress?.(written);
  }
}

export async function dropRows(db: Tables, kind: ListedKind, ids: readonly string[]): Promise<void> {
  const table = tableOf[kind];
  for (const part of parts(ids)) await db.delete(table).where(inArray(table.id, part));
}

function parts<T>(items: readonly T[]): T[][] {
  return Array.from({ length: Math.ceil(items.length / AT_A_TIME) }, (_, index) => items.slice(index * AT_A_TIME, (index + 1) * AT_A_TIME));
}
