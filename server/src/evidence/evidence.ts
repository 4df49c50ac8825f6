import type { Row } from '@plain-envoy/core/model';
import { and, desc, eq, sql } from 'drizzle-orm';
import { v7 as newId } from 'uuid';
import { actor } from '../access/index.js';
import { type Database, schema } from '../database/index.js';

export type EvidenceKind = 'proof' | 'errand' | 'hand' | 'snapshot' | 'step' | 'loss' | 'found';

/** One thing that was done or seen on the bench. */
export interface EvidenceEntry {
  id: string;
  of: string;
  revision: number;
  atMs: number;
  /** Who did it, where one has to sign in. */
  by: string | null;
  body: Row;
}

/** What was done and seen on the bench, kept with the project's revision. Nothing here is ever changed, and only snapshots may be forgotten. */
export class Evidence {
  constructor(private readonly database: Database) {}

  async keep(projectId: string, kind: EvidenceKind, of: string, revision: number, body: object): Promise<EvidenceEntry> {
    const row = { id: newId(), projectId, kind, of, revision, at: new Date(), body: body as Row, by: actor() };
    await this.database.tables.insert(schema.evidence).values(row);
    return asEntry(row);
  }

  /** The newest first. */
  async list(projectId: string, kind: EvidenceKind, limit: number, of?: string): Promise<EvidenceEntry[]> {
    const { evidence } = schema;
    const rows = await this.database.tables
      .select()
      .from(evidence)
      .where(and(eq(evidence.projectId, projectId), eq(evidence.kind, kind), of ? eq(evidence.of, of) : undefined))
      .orderBy(desc(evidence.at), desc(evidence.id))
      .limit(limit);
    return rows.map(asEntry);
  }

  /** Forgets one of a kind of which a person may; whether it was there. */
  async drop(projectId: string, kind: Extract<EvidenceKind, 'snapshot'>, id: string): Promise<boolean> {
    const { evidence } = schema;
    const gone = await this.database.tables
      .delete(evidence)
      .where(and(eq(evidence.projectId, projectId), eq(evidence.kind, kind), eq(evidence.id, id)))
      .returning({ id: evidence.id });
    return gone.length > 0;
  }

  /** The newest of each thing that it is about; with `onEach`, of the stand-ins and of the real plant, as `on` of the body says. */
  async latest(projectId: string, kind: EvidenceKind, onEach = false): Promise<EvidenceEntry[]> {
    const { evidence } = schema;
    const apart = [evidence.of, ...(onEach ? [sql`${evidence.body}->>'on'`] : [])] as const;
    const rows = await this.database.tables
      .selectDistinctOn([...apart])
      .from(evidence)
      .where(and(eq(evidence.projectId, projectId), eq(evidence.kind, kind)))
      .orderBy(...apart, desc(evidence.at), desc(evidence.id));
    return rows.map(asEntry);
  }
}

function asEntry({ id, of, revision, at, by, body }: typeof schema.evidence.$inferSelect): EvidenceEntry {
  return { id, of, revision, atMs: at.getTime(), by, body };
}
