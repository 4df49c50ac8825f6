import type { Row } from '@plain-envoy/core/model';
import { and, desc, eq } from 'drizzle-orm';
import { v7 as newId } from 'uuid';
import { actor } from '../access/index.js';
import { type Database, schema } from '../database/index.js';

export type EvidenceKind = 'proof' | 'errand' | 'hand' | 'snapshot' | 'step' | 'loss';

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

  /** The newest of each thing that it is about. */
  async latest(projectId: string, kind: EvidenceKind): Promise<EvidenceEntry[]> {
    const { evidence } = schema;
    const rows = await this.database.tables
      .selectDistinctOn([evidence.of])
      .from(evidence)
      .where(and(eq(evidence.projectId, projectId), eq(evidence.kind, kind)))
      .orderBy(evidence.of, desc(evidence.at), desc(evidence.id));
    return rows.map(asEntry);
  }
}

function asEntry({ id, of, revision, at, by, body }: typeof schema.evidence.$inferSelect): EvidenceEntry {
  return { id, of, revision, atMs: at.getTime(), by, body };
}
