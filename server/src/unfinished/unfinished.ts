import type { Row } from '@plain-envoy/core/model';
import { Mutex } from 'async-mutex';
import { and, eq } from 'drizzle-orm';
import { type Database, isConnectionError, schema } from '../database/index.js';

export type UnfinishedKind = (typeof schema.unfinished.$inferSelect)['kind'];

/** Something that went on when it was written down. */
export interface UnfinishedEntry {
  projectId: string;
  kind: UnfinishedKind;
  atMs: number;
  body: Row;
}

/** Something was to be written down before it begins, and the database did not take it. */
export class NotWrittenDown extends Error {
  constructor() {
    super('The database does not answer, so it could not be written down.');
  }
}

/** What goes on just now, written down so that the next start can take it up or put it back; one of a kind in each project. */
export class Unfinished {
  /** What the database was not there to be told, the newest of each; null strikes out. */
  private readonly owed = new Map<string, { projectId: string; kind: UnfinishedKind; body: object | null }>();
  private readonly turn = new Mutex();

  constructor(private readonly database: Database) {}

  /** What was not struck out, the oldest first. */
  async list(): Promise<UnfinishedEntry[]> {
    const { unfinished } = schema;
    const rows = await this.database.tables.select().from(unfinished).orderBy(unfinished.at);
    return rows.map(({ at, ...row }) => ({ ...row, atMs: at.getTime() }));
  }

  /** Writes down what goes on; null strikes it out. Rejects where the database is away. */
  async write(projectId: string, kind: UnfinishedKind, body: object | null): Promise<void> {
    await this.note(projectId, kind, body);
    const key = keyOf(projectId, kind);
    if (this.owed.delete(key)) throw new NotWrittenDown();
  }

  /** The same for what goes on anyway: where the database is away, it is told once it is back. */
  async note(projectId: string, kind: UnfinishedKind, body: object | null): Promise<void> {
    this.owed.set(keyOf(projectId, kind), { projectId, kind, body });
    await this.catchUp();
  }

  /** Tells the database what it was not there to be told. */
  catchUp(): Promise<void> {
    return this.turn.runExclusive(async () => {
      for (const [key, entry] of this.owed) {
        try {
          await this.save(entry);
        } catch (error) {
          if (isConnectionError(error)) return;
          throw error;
        }
        if (this.owed.get(key) === entry) this.owed.delete(key);
      }
    });
  }

  private async save({ projectId, kind, body }: { projectId: string; kind: UnfinishedKind; body: object | null }): Promise<void> {
    const { unfinished } = schema;
    const { tables } = this.database;
    if (body === null) {
      await tables.delete(unfinished).where(and(eq(unfinished.projectId, projectId), eq(unfinished.kind, kind)));
      return;
    }
    const row = { projectId, kind, body: body as Row, at: new Date() };
    await tables
      .insert(unfinished)
      .values(row)
      .onConflictDoUpdate({ target: [unfinished.projectId, unfinished.kind], set: { body: row.body, at: row.at } });
  }
}

function keyOf(projectId: string, kind: UnfinishedKind): string {
  return `${kind} ${projectId}`;
}
