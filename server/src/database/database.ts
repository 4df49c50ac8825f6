import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import type { DatabaseHealth } from '@plain-envoy/core/feed';
import * as schema from './schema.js';
import { inBackground } from '@plain-envoy/engine/background';

const PROBE_MS = 1000;
const ANSWER_MS = 2000;
const LISTEN_MS = 100;
const ENDED_EACH_MS = 100;

const AWAY = 'The database does not answer. What runs goes on; edits cannot be kept until it is back, which is tried every second.';

/** What an edit is answered while the database is away. */
export const NOT_SAVED = 'The database does not answer, so nothing was saved. What you typed is still here; try again when it is back.';

export type Tables = NodePgDatabase<typeof schema>;

/** The pool, watched: a probe each second tells everyone when PostgreSQL goes away and when it is back. */
export class Database {
  readonly tables: Tables;
  health: DatabaseHealth = { ok: true };
  private readonly pool: pg.Pool;
  private timer: NodeJS.Timeout | null = null;
  private isClosed = false;
  private upToDate: Promise<void> | null = null;

  constructor(
    url: string,
    private readonly onHealth: (health: DatabaseHealth) => void,
    /** A question that is not answered within so long is given up: a PostgreSQL that stands still keeps no limit of its own. */
    answersMs = 10_000,
  ) {
    this.pool = new pg.Pool({
      connectionString: url,
      max: 8,
      connectionTimeoutMillis: answersMs,
      query_timeout: answersMs,
      keepAlive: true,
    });
    this.pool.on('error', () => inBackground(this.probe()));
    // A connection that is in use, or was just given up, also reports its end here; unheard, that would end the process.
    this.pool.on('connect', (client) => client.on('error', () => inBackground(this.probe())));
    this.tables = drizzle(this.pool, { schema });
  }

  /**
   * Does all of it or nothing. A connection that breaks on the way, even before it begins, is given up and not given back to the
   * pool, which would else have one less for ever. Rejects with `CommitUnanswered` where it is not known which of the two it was.
   */
  async inTransaction<T>(work: (db: Tables) => Promise<T>, isolation: 'read committed' | 'repeatable read' = 'read committed'): Promise<T> {
    const client = await this.pool.connect();
    let [isBroken, isCommitting] = [false, false];
    try {
      await client.query(`begin isolation level ${isolation}`);
      const result = await work(drizzle(client, { schema }));
      isCommitting = true;
      await client.query('commit');
      return result;
    } catch (error) {
      // Nobody hears a rollback there; what was not committed ends with the connection.
      isBroken = isConnectionError(error);
      if (isBroken && isCommitting) throw new CommitUnanswered(backendOf(client), { cause: error });
      if (!isBroken) await client.query('rollback').catch(() => (isBroken = true));
      throw error;
    } finally {
      client.release(isBroken);
    }
  }

  /** Starts the probe. Resolves also where the database is away just now; rejects where its tables cannot be brought up to date. */
  async open(): Promise<void> {
    await this.probe();
    const { health } = this;
    if (!health.ok && health.broken) throw new Error(health.message);
    this.later();
  }

  async close(): Promise<void> {
    this.isClosed = true;
    if (this.timer) clearTimeout(this.timer);
    await this.pool.end();
  }

  /** Resolves when what a connection that was given up still had under way has ended: a PostgreSQL that stood still goes on with it. */
  async ended(backend: number): Promise<void> {
    const isThere = async () => (await this.pool.query('select 1 from pg_stat_activity where pid = $1', [backend])).rowCount !== 0;
    while (!this.isClosed && (await isThere())) await new Promise((done) => setTimeout(done, ENDED_EACH_MS));
  }

  /** Asks now; an answer, or its lack, is told to everyone where it changes anything. */
  async probe(): Promise<void> {
    const why = (await this.answers()) ? await this.whyNotUpToDate() : { broken: false, message: AWAY };
    if (this.isClosed || (why === null) === this.health.ok) return;
    this.health = why === null ? { ok: true } : { ok: false, sinceMs: Date.now(), ...why };
    this.onHealth(this.health);
  }

  /** Brings the tables up to date where that has not been done yet; null when they are. */
  private async whyNotUpToDate(): Promise<{ broken: boolean; message: string } | null> {
    this.upToDate ??= migrate(this.tables, { migrationsFolder: fileURLToPath(new URL('../../migrations', import.meta.url)) });
    try {
      await this.upToDate;
      return null;
    } catch (error) {
      this.upToDate = null;
      if (isConnectionError(error)) return { broken: false, message: AWAY };
      return { broken: true, message: `The tables of the database cannot be brought up to date: ${reasonOf(error)}` };
    }
  }

  /** Whether it answers while this thread listens: one that works out a large edit hears nobody, which says nothing of the database. */
  private async answers(): Promise<boolean> {
    let heard: boolean | null = null;
    const asked = this.pool.query('select 1').then(
      () => (heard = true),
      () => (heard = false),
    );
    for (let leftMs = ANSWER_MS; heard === null && leftMs > 0; leftMs -= LISTEN_MS) {
      await Promise.race([asked, new Promise((done) => setTimeout(done, LISTEN_MS).unref())]);
    }
    return heard ?? false;
  }

  private later(): void {
    if (this.isClosed) return;
    this.timer = setTimeout(() => {
      this.probe().then(
        () => this.later(),
        () => this.later(),
      );
    }, PROBE_MS);
  }
}

/** What an edit is answered to whose commit nothing came: it may have gone before it or just after. */
export const PERHAPS_SAVED =
  'The database stopped answering while this was saved, so it is not known whether it was. What you typed is still here; once the database is back, it is said which.';

/** A commit was sent and not answered: what belongs to it is saved, or not. */
export class CommitUnanswered extends Error {
  /** `backend` is the process of PostgreSQL that had it. */
  constructor(
    readonly backend: number,
    options: ErrorOptions,
  ) {
    super('The commit was not answered.', options);
  }
}

function reasonOf(error: unknown): string {
  const { cause } = error as Error;
  return cause instanceof Error ? cause.message : String(error);
}

function backendOf(client: pg.PoolClient): number {
  return (client as unknown as { processID: number }).processID;
}

/** True for errors that mean “not reached”, as opposed to “refused what was asked”. */
export function isConnectionError(error: unknown): boolean {
  for (let at: unknown = error; at instanceof Error; at = at.cause) {
    const code = (at as NodeJS.ErrnoException).code ?? '';
    if (/^(ECONN|EPIPE|ETIMEDOUT|57P0|08)/.test(code)) return true;
    if (/Connection terminated|timeout exceeded|Query read timeout|connection is closed|not queryable/i.test(at.message)) return true;
  }
  return false;
}
