import { applyChanges, type Change, inverse, type ProjectDocument } from '@plain-envoy/core/model';
import type { NamedRevision, RevisionEntry, RevisionHistory } from '@plain-envoy/core/feed';
import { and, desc, eq, gt, sql } from 'drizzle-orm';
import { z } from 'zod';
import { actor } from '../access/index.js';
import { type Database, schema } from '../database/index.js';
import { refuse } from '../problem/index.js';
import type { ProjectStore } from './store.js';

/** So many edits are listed at a time. */
const LISTED = 500;
/** So many edits are taken out of the database at a time when an older state is worked out. */
const AT_A_TIME = 200;

/** A name for a revision, and why it has one; no name takes it away. */
export const AskName = z.strictObject({
  name: z.string().trim().max(80, 'At most 80 characters.'),
  note: z.string().trim().max(2000, 'At most 2000 characters.').default(''),
});
export type AskName = z.infer<typeof AskName>;

/** What a project was at each of its revisions, and which of them have names. */
export class Revisions {
  constructor(
    private readonly database: Database,
    private readonly store: ProjectStore,
  ) {}

  /** The edits of a project, the newest first, and the revisions that have names. */
  async list(projectId: string): Promise<RevisionHistory> {
    const { revision: current } = await this.store.read(projectId);
    const { id, kind, label, revision, at, by, changes } = schema.changeSets;
    const db = this.database.tables;
    const entries = await db
      .select({ id, kind, label, revision, at, by, size: sql<number>`jsonb_array_length(${changes})` })
      .from(schema.changeSets)
      .where(eq(schema.changeSets.projectId, projectId))
      .orderBy(desc(revision))
      .limit(LISTED);
    const names = await db
      .select()
      .from(schema.revisionNames)
      .where(eq(schema.revisionNames.projectId, projectId))
      .orderBy(desc(schema.revisionNames.revision));
    return {
      current,
      first: await this.firstOf(projectId, current),
      entries: entries.map(({ at: when, ...entry }): RevisionEntry => ({ ...entry, atMs: when.getTime() })),
      names: names.map((row): NamedRevision => ({
        revision: row.revision,
        name: row.name,
        note: row.note,
        atMs: row.at.getTime(),
        by: row.by,
      })),
    };
  }

  /** The project as it was at a revision: as it is now, with every edit since taken back. */
  async at(projectId: string, revision: number): Promise<{ revision: number; document: ProjectDocument }> {
    const { revision: current, document } = await this.store.read(projectId);
    const first = await this.firstOf(projectId, current);
    if (revision > current)
      refuse('not-there', `The project is at revision ${current}; there is no revision ${revision} yet.`, ['revision']);
    if (revision < first) refuse('not-there', `What the project was before revision ${first} is not kept.`, ['revision']);
    let [state, from] = [document, current];
    while (from > revision) {
      const part = await this.database.tables
        .select({ revision: schema.changeSets.revision, changes: schema.changeSets.changes })
        .from(schema.changeSets)
        .where(
          and(
            eq(schema.changeSets.projectId, projectId),
            gt(schema.changeSets.revision, Math.max(revision, from - AT_A_TIME)),
            sql`${schema.changeSets.revision} <= ${from}`,
          ),
        )
        .orderBy(desc(schema.changeSets.revision));
      for (const { changes } of part) state = applyChanges(state, inverse(changes as Change[]));
      from -= AT_A_TIME;
    }
    return { revision, document: state };
  }

  async name(projectId: string, revision: number, { name, note }: AskName): Promise<void> {
    const { revision: current } = await this.store.read(projectId);
    if (revision > current || revision < (await this.firstOf(projectId, current)))
      refuse('not-there', `There is no revision ${revision} that could have a name.`, ['revision']);
    const { revisionNames } = schema;
    const db = this.database.tables;
    const own = and(eq(revisionNames.projectId, projectId), eq(revisionNames.revision, revision));
    if (name === '') {
      await db.delete(revisionNames).where(own);
      return;
    }
    const row = { name, note, at: new Date(), by: actor() };
    await db
      .insert(revisionNames)
      .values({ projectId, revision, ...row })
      .onConflictDoUpdate({ target: [revisionNames.projectId, revisionNames.revision], set: row });
  }

  /** The oldest revision that can be worked out: where the edits begin that were kept without a gap. */
  private async firstOf(projectId: string, current: number): Promise<number> {
    const { projectId: of, revision } = schema.changeSets;
    const [found] = await this.database.tables
      .select({ oldest: sql<number | null>`min(${revision})` })
      .from(schema.changeSets)
      .where(eq(of, projectId));
    return found?.oldest == null ? current : found.oldest - 1;
  }
}
