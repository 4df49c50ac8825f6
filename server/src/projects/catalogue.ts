import { DEMO_ID, freeName, listedKinds, listOf, type Project, type ProjectDocument, type Row } from '@plain-envoy/core/model';
import {
  fileOf,
  type KeptAttachment,
  type KeptEvidence,
  type KeptRevision,
  type ProjectFile,
  renamer,
} from '@plain-envoy/core/project-file';
import type { ListedProject } from '@plain-envoy/core/feed';
import { and, asc, count, eq, inArray, isNotNull, isNull, lt, max, sql } from 'drizzle-orm';
import { v7 as newId } from 'uuid';
import type { Attachments } from '../attachments/index.js';
import { type Database, schema, type Tables } from '../database/index.js';
import { refuse } from '../problem/index.js';
import type { Judgements } from './judgements.js';
import { putRows, tableOf } from './rows.js';
import type { ProjectStore } from './store.js';

/** How long a project that was deleted can be taken back. */
export const KEPT_MS = 24 * 3_600_000;
const EVIDENCE_AT_A_TIME = 1000;

/** All projects: which there are and how they stand, made, copied, put away, thrown away and taken back, each as a whole. */
export class Catalogue {
  constructor(
    private readonly database: Database,
    private readonly store: ProjectStore,
    private readonly judgements: Judgements,
    private readonly attachments: Attachments,
  ) {}

  /** All that there are, those that were changed last first; also those put away, and those thrown away for as long as they are kept. */
  async list(): Promise<ListedProject[]> {
    if (!this.database.health.ok && this.store.inMemory().length) return this.store.inMemory().map(fromMemory);
    const { projects } = schema;
    // Within a question of its own, a column says of which table it is.
    const own = sql.raw('projects.id');
    const ofProject = (table: typeof schema.lines) => this.database.tables.$count(table, eq(table.projectId, projects.id));
    const rows = await this.database.tables
      .select({
        body: projects.body,
        revision: projects.revision,
        archivedAt: projects.archivedAt,
        deletedAt: projects.deletedAt,
        changedAt: sql<string>`coalesce((select at from change_sets where project_id = ${own} order by revision desc limit 1), projects.created_at)`,
        lines: ofProject(schema.lines),
        devices: ofProject(schema.devices as never),
        routes: ofProject(schema.routes as never),
        proved: sql<number>`(select count(*)::int from (
          select distinct on (e.of) e.body->>'state' as state from evidence e join routes r on r.id = e.of
          where e.project_id = ${own} and e.kind = 'proof' order by e.of, e.at desc, e.id desc) newest where state = 'proved')`,
      })
      .from(projects)
      .orderBy(asc(projects.id));
    const listed = rows.map(({ body, revision, archivedAt, deletedAt, changedAt, ...counts }): ListedProject => {
      const { id, name, client, note } = body as Project;
      const findings = deletedAt ? null : this.judgements.of(id, revision);
      return {
        ...{ id, name, client, note, revision, findings, ...counts },
        changedAtMs: new Date(changedAt).getTime(),
        isArchived: archivedAt !== null,
        deletedAtMs: deletedAt?.getTime() ?? null,
      };
    });
    return listed.sort((a, b) => b.changedAtMs - a.changedAtMs);
  }

  /** Whether the demo may be put there: where it is already and was not thrown away, or where there is nothing yet. */
  async wantsDemo(): Promise<boolean> {
    const { projects } = schema;
    const [row] = await this.database.tables.select().from(projects).where(eq(projects.id, DEMO_ID));
    if (row) return row.deletedAt === null;
    const [all] = await this.database.tables.select({ count: count() }).from(projects);
    return all!.count === 0;
  }

  /** Puts a whole project there, all of it or nothing; where `signal` fires on the way, nothing. */
  async create(
    document: ProjectDocument,
    {
      revision = 0,
      revisedAt = null,
      revisions = [],
      evidence = [],
      attachments = [],
      signal,
      onProgress,
    }: {
      revision?: number;
      revisedAt?: string | null;
      revisions?: readonly KeptRevision[];
      evidence?: readonly KeptEvidence[];
      attachments?: readonly KeptAttachment[];
      signal?: AbortSignal;
      onProgress?: (rows: number) => void;
    } = {},
  ): Promise<void> {
    const { project } = document;
    let written = 0;
    const wrote = (rows: number) => {
      if (signal?.aborted) refuse('not-now', 'It was stopped. Nothing was taken in.');
      onProgress?.(written + rows);
    };
    await this.database.inTransaction(async (db) => {
      const createdAt = revisedAt === null ? new Date() : new Date(revisedAt);
      await db.insert(schema.projects).values({ id: project.id, body: project, revision, createdAt });
      const names = revisions.map((row) => ({ ...row, projectId: project.id, at: new Date(row.at) }));
      if (names.length) await db.insert(schema.revisionNames).values(names);
      for (const kind of listedKinds) {
        const rows = document[listOf(kind)] as Row[];
        await putRows(db, kind, project.id, rows, wrote);
        written += rows.length;
      }
      for (let at = 0; at < evidence.length; at += EVIDENCE_AT_A_TIME) {
        wrote(0);
        const part = evidence.slice(at, at + EVIDENCE_AT_A_TIME);
        await db.insert(schema.evidence).values(
          part.map(({ at: when, body, ...row }) => ({
            ...row,
            id: newId(),
            projectId: project.id,
            at: new Date(when),
            body: body as Row,
          })),
        );
      }
      for (const { at, base64, ...row } of attachments) {
        wrote(0);
        const bytes = Buffer.from(base64, 'base64');
        await db
          .insert(schema.attachments)
          .values({ ...row, id: newId(), projectId: project.id, size: bytes.length, bytes, at: new Date(at) });
      }
      wrote(0);
    });
  }

  /** Puts a project there out of a file: under its own ids where nothing has them, else as another one. */
  async takeIn(file: ProjectFile, signal: AbortSignal, onProgress: (rows: number) => void): Promise<Project> {
    const isTaken = await this.hasSomeOf(file.document);
    const anew = isTaken ? renamer(file.document, newId) : <T>(value: T) => value;
    const document = anew(file.document);
    document.project = { ...document.project, name: freeName(document.project.name, await this.names()) };
    const { evidence, attachments } = anew({ evidence: file.evidence, attachments: file.attachments });
    const { revision, revisedAt, revisions } = file;
    await this.create(document, { revision, revisedAt, revisions, evidence, attachments, signal, onProgress });
    return document.project;
  }

  /** A copy with a name and ids of its own; what was proved with the other is not proved with it. */
  async duplicate(projectId: string): Promise<Project> {
    const { document } = await this.store.read(projectId);
    const anew = renamer(document, newId);
    const copy = anew(document);
    copy.project = { ...copy.project, name: freeName(copy.project.name, await this.names()) };
    const attachments = await this.attachments.ofFile(projectId);
    await this.create(copy, { attachments: anew(attachments) });
    return copy.project;
  }

  /** A project as a file: alone, with what was done and seen on the bench, or with what is attached to its devices too. */
  async file(projectId: string, parts: 'alone' | 'evidence' | 'all'): Promise<ProjectFile> {
    const { document, revision } = await this.store.read(projectId);
    const { evidence } = schema;
    const rows =
      parts === 'alone'
        ? []
        : await this.database.tables.select().from(evidence).where(eq(evidence.projectId, projectId)).orderBy(evidence.at, evidence.id);
    const kept = rows.map(({ kind, of, revision: at, at: when, by, body }) => ({
      kind,
      of,
      revision: at,
      at: when.toISOString(),
      by,
      body,
    }));
    const { revisedAt, revisions } = await this.revised(projectId);
    const named = revisions.filter((row) => row.revision <= revision);
    return fileOf(document, revision, kept, parts === 'all' ? await this.attachments.ofFile(projectId) : [], {
      revisedAt,
      revisions: named,
    });
  }

  /** When it was edited last, and its revisions with names. */
  private async revised(projectId: string): Promise<Pick<ProjectFile, 'revisedAt' | 'revisions'>> {
    const { changeSets, projects, revisionNames } = schema;
    const db = this.database.tables;
    const [edit] = await db
      .select({ at: max(changeSets.at) })
      .from(changeSets)
      .where(eq(changeSets.projectId, projectId));
    const [made] = await db.select({ at: projects.createdAt }).from(projects).where(eq(projects.id, projectId));
    const names = await db.select().from(revisionNames).where(eq(revisionNames.projectId, projectId)).orderBy(revisionNames.revision);
    return {
      revisedAt: (edit?.at ?? made?.at)?.toISOString() ?? null,
      revisions: names.map(({ revision, name, note, at, by }) => ({ revision, name, note, at: at.toISOString(), by })),
    };
  }

  archive(projectId: string, isArchived: boolean): Promise<void> {
    return this.mark(projectId, { archivedAt: isArchived ? new Date() : null });
  }

  /** Throws a project away, or takes it back. */
  remove(projectId: string, isRemoved: boolean): Promise<void> {
    this.store.forget(projectId);
    return this.mark(projectId, { deletedAt: isRemoved ? new Date() : null });
  }

  /** Deletes for good what was thrown away longer ago than it is kept. */
  async purge(nowMs = Date.now()): Promise<void> {
    await this.database.inTransaction(async (db) => {
      const { projects } = schema;
      const old = await db
        .select({ id: projects.id })
        .from(projects)
        .where(and(isNotNull(projects.deletedAt), lt(projects.deletedAt, new Date(nowMs - KEPT_MS))))
        .for('update');
      for (const { id } of old) await dropAll(db, id);
    });
  }

  private async mark(
    projectId: string,
    marks: Partial<Pick<typeof schema.projects.$inferInsert, 'archivedAt' | 'deletedAt'>>,
  ): Promise<void> {
    const { projects } = schema;
    const marked = await this.database.tables.update(projects).set(marks).where(eq(projects.id, projectId)).returning({ id: projects.id });
    if (marked.length === 0) refuse('not-there', 'There is no such project.');
  }

  private async names(): Promise<string[]> {
    const { projects } = schema;
    const rows = await this.database.tables.select({ body: projects.body }).from(projects).where(isNull(projects.deletedAt));
    return rows.map(({ body }) => String(body['name']));
  }

  /** Whether an id of this project is taken by something that is there. */
  private async hasSomeOf(document: ProjectDocument): Promise<boolean> {
    const isThere = async (table: typeof schema.lines, ids: string[]) =>
      ids.length > 0 && (await this.database.tables.$count(table, inArray(table.id, ids))) > 0;
    if (await isThere(schema.projects as never, [document.project.id])) return true;
    for (const kind of listedKinds) {
      const ids = document[listOf(kind)].map(({ id }) => id);
      for (let at = 0; at < ids.length; at += 1000) if (await isThere(tableOf[kind] as never, ids.slice(at, at + 1000))) return true;
    }
    return false;
  }
}

function fromMemory({ document, revision }: { document: ProjectDocument; revision: number }): ListedProject {
  const { id, name, client, note } = document.project;
  const { lines, devices, routes } = document;
  return {
    ...{ id, name, client, note, revision, findings: null, proved: null },
    ...{ lines: lines.length, devices: devices.length, routes: routes.length },
    ...{ changedAtMs: 0, isArchived: false, deletedAtMs: null },
  };
}

async function dropAll(db: Tables, projectId: string): Promise<void> {
  for (const table of [schema.unfinished, schema.evidence, schema.revisionNames, schema.changeSets])
    await db.delete(table).where(eq(table.projectId, projectId));
  for (const kind of [...listedKinds].reverse()) await db.delete(tableOf[kind]).where(eq(tableOf[kind].projectId, projectId));
  await db.delete(schema.projects).where(eq(schema.projects.id, projectId));
}
