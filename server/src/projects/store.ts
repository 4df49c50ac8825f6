import { actor } from '../access/index.js';
import { Mutex } from 'async-mutex';
import type { Accepted, Settled } from '@plain-envoy/core/feed';
import { isDeepStrictEqual } from 'node:util';
import { desc, eq } from 'drizzle-orm';
import {
  applyChanges,
  type Change,
  type ChangeSet,
  checkChanges,
  type EntityKind,
  type HistoryEntry,
  inverse,
  listedKinds,
  listOf,
  type ProjectDocument,
  type Row,
  undoStacks,
} from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { CommitUnanswered, type Database, isConnectionError, NOT_SAVED, PERHAPS_SAVED, schema, type Tables } from '../database/index.js';
import { ProblemError, refuse } from '../problem/index.js';
import { checkReferences } from './references.js';
import { dropRows, putRows, rowsById, rowsOf, tableOf } from './rows.js';

export interface Held {
  revision: number;
  document: ProjectDocument;
  /** What undo and redo would do next; null where there is nothing. */
  undo: string | null;
  redo: string | null;
}

interface UndoEntry extends HistoryEntry {
  label: string;
}

/** An edit whose commit was not answered, and the process of PostgreSQL that had it. */
interface Unsettled {
  projectId: string;
  entry: UndoEntry;
  changes: Change[];
  backend: number;
}

/**
 * The projects: rows in PostgreSQL are the truth, and what was read or written last is kept in memory, so that reading goes
 * on while the database is away. Only this process writes, one change set at a time per project.
 */
export class ProjectStore {
  private readonly held = new Map<string, Held>();
  private readonly doubtful = new Set<string>();
  private readonly turns = new Map<string, Mutex>();
  /** Edits of which it is not known whether they were saved, the oldest first. */
  private unsettled: Unsettled[] = [];
  private readonly settling = new Mutex();

  constructor(
    private readonly database: Database,
    private readonly onAccepted: (accepted: Accepted) => void,
    private readonly onSettled: (settled: Settled) => void = () => undefined,
  ) {}

  async get(projectId: string): Promise<Held> {
    return this.trusted(projectId) ?? this.inTurn(projectId, () => this.open(projectId));
  }

  /** Puts a whole project into the database, also where one with its id is there that nobody has edited. */
  async seed(document: ProjectDocument): Promise<void> {
    await this.database.inTransaction(async (db) => {
      const { project } = document;
      const made = await db
        .insert(schema.projects)
        .values({ id: project.id, body: project, revision: 0 })
        .onConflictDoUpdate({ target: schema.projects.id, set: { body: project }, setWhere: eq(schema.projects.revision, 0) })
        .returning({ id: schema.projects.id });
      if (made.length === 0) return;
      for (const kind of [...listedKinds].reverse()) await db.delete(tableOf[kind]).where(eq(tableOf[kind].projectId, project.id));
      for (const kind of listedKinds) await putRows(db, kind, project.id, document[listOf(kind)] as Row[]);
    });
  }

  /** What is in memory of projects, which is all there is while the database is away. */
  inMemory(): Held[] {
    return [...this.held.values()];
  }

  /** A project as it is, without keeping it in memory. */
  async read(projectId: string): Promise<Held> {
    return this.trusted(projectId) ?? this.database.inTransaction((db) => this.load(db, projectId), 'repeatable read');
  }

  /** Nobody works on it any more; it is read again when it is wanted. */
  forget(projectId: string): void {
    if (!this.unsettled.some((edit) => edit.projectId === projectId)) this.held.delete(projectId);
  }

  /** Accepts an edit whole or refuses it whole; a conflict is answered with the row as it is now. `onProgress` hears of rows as they are written. */
  async apply(projectId: string, changeSet: ChangeSet, onProgress: (written: number) => void = () => undefined): Promise<Accepted> {
    const checked = checkChanges(changeSet.changes, projectId);
    if (!checked.ok) refuse('does-not-fit', checked.problem.message, checked.problem.path);
    const id = newId();
    const entry: UndoEntry = { id, of: id, kind: 'edit', label: changeSet.label };
    return this.inTurn(projectId, () => this.commit(projectId, checked.value, entry, changeSet.baseRevision, onProgress));
  }

  /** Takes back the last edit that still stands, or does again the last that was taken back. */
  step(projectId: string, kind: 'undo' | 'redo'): Promise<Accepted> {
    return this.inTurn(projectId, async () => {
      const db = this.database.tables;
      const of = undoStacks(await this.history(db, projectId))[kind].at(-1);
      if (!of) refuse('not-now', kind === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.');
      const [edit] = await db.select().from(schema.changeSets).where(eq(schema.changeSets.id, of));
      const changes = kind === 'undo' ? inverse(edit!.changes) : edit!.changes;
      return this.commit(projectId, changes, { id: newId(), of, kind, label: edit!.label }, null);
    });
  }

  /** A connection can break while the database itself is there: then nobody says that it is back. */
  private settleWhereItAnswers(): void {
    const settle = () => (this.database.health.ok ? this.settle() : undefined);
    // Where it does not answer after all, it is settled when the database is back.
    this.database
      .probe()
      .then(settle)
      .catch(() => undefined);
  }

  /** Finds out which of the edits that were not known to be saved are; to be called whenever the database is back. */
  settle(): Promise<void> {
    return this.settling.runExclusive(() => this.settleAll());
  }

  private async settleAll(): Promise<void> {
    for (let next = this.unsettled[0]; next; next = this.unsettled[0]) {
      const { projectId, entry, changes, backend } = next;
      await this.database.ended(backend);
      const { id } = schema.changeSets;
      const saved = await this.database.tables.select({ id }).from(schema.changeSets).where(eq(id, entry.id));
      const { revision, undo, redo } = await this.get(projectId);
      this.unsettled = this.unsettled.filter((row) => row !== next);
      if (saved.length > 0) this.onAccepted({ projectId, revision, label: entry.label, kind: entry.kind, changes, undo, redo });
      this.onSettled({ projectId, label: entry.label, saved: saved.length > 0 });
    }
  }

  /** What is in memory, where it is certain to be the newest; while the database is away, the best there is. */
  private trusted(projectId: string): Held | undefined {
    return this.doubtful.has(projectId) && this.database.health.ok ? undefined : this.held.get(projectId);
  }

  private async open(projectId: string): Promise<Held> {
    const known = this.trusted(projectId);
    if (known) return known;
    const loaded = await this.database.inTransaction((db) => this.load(db, projectId), 'repeatable read');
    this.held.set(projectId, loaded);
    this.doubtful.delete(projectId);
    return loaded;
  }

  /** Does what is asked of one project one after the other, so that what is in memory never falls behind the rows. */
  private inTurn<T>(projectId: string, work: () => Promise<T>): Promise<T> {
    const turns = this.turns.get(projectId) ?? new Mutex();
    this.turns.set(projectId, turns);
    return turns.runExclusive(work);
  }

  private async commit(
    projectId: string,
    changes: Change[],
    entry: UndoEntry,
    baseRevision: number | null,
    onProgress?: (written: number) => void,
  ): Promise<Accepted> {
    if (!this.database.health.ok) refuse('no-database', NOT_SAVED);
    const before = await this.open(projectId);
    try {
      const { revision, undo, redo } = await this.database.inTransaction((db) =>
        this.write(db, projectId, changes, entry, baseRevision, onProgress),
      );
      this.held.set(projectId, { revision, document: applyChanges(before.document, changes), undo, redo });
      const accepted: Accepted = { projectId, revision, label: entry.label, kind: entry.kind, changes, undo, redo };
      this.onAccepted(accepted);
      return accepted;
    } catch (error) {
      // A connection that breaks may break before or after the commit: the rows must be read again.
      if (!(error instanceof ProblemError)) this.doubtful.add(projectId);
      if (error instanceof CommitUnanswered) {
        this.unsettled.push({ projectId, entry, changes, backend: error.backend });
        this.settleWhereItAnswers();
        refuse('no-database', PERHAPS_SAVED);
      }
      if (isConnectionError(error)) refuse('no-database', NOT_SAVED);
      throw error;
    }
  }

  private async write(
    db: Tables,
    projectId: string,
    changes: Change[],
    entry: UndoEntry,
    baseRevision: number | null,
    onProgress?: (written: number) => void,
  ) {
    const [project] = await db.select().from(schema.projects).where(eq(schema.projects.id, projectId)).for('update');
    this.refuseUnlessThere(project);
    await this.checkBefore(db, changes, project.revision, baseRevision);
    await checkReferences(db, changes, projectId);
    const revision = project.revision + 1;
    for (const kind of listedKinds) {
      const ofKind = changes.filter((change) => change.entity === kind);
      await dropRows(
        db,
        kind,
        ofKind.filter((change) => !change.after).map((change) => change.id),
      );
      await putRows(
        db,
        kind,
        projectId,
        ofKind.map((change) => change.after).filter((after) => after !== null),
        onProgress,
      );
    }
    const renamed = changes.find((change) => change.entity === 'project')?.after;
    await db
      .update(schema.projects)
      .set({ revision, ...(renamed ? { body: renamed } : {}) })
      .where(eq(schema.projects.id, projectId));
    await db.insert(schema.changeSets).values({ ...entry, projectId, revision, changes, by: actor() });
    return { revision, ...nextSteps(await this.history(db, projectId)) };
  }

  private async checkBefore(db: Tables, changes: readonly Change[], revision: number, baseRevision: number | null): Promise<void> {
    if (baseRevision !== null && baseRevision > revision) {
      refuse(
        'changed-meanwhile',
        `The edit rests on revision ${baseRevision}, but the project is at ${revision}. Load it again.`,
        ['baseRevision'],
        {
          revision,
        },
      );
    }
    for (const kind of new Set(changes.map((change) => change.entity))) {
      const ofKind = changes.filter((change) => change.entity === kind);
      const now = await rowsById(
        db,
        kind,
        ofKind.map((change) => change.id),
      );
      const conflict = ofKind.find((change) => !isDeepStrictEqual(now.get(change.id) ?? null, change.before));
      if (conflict) {
        const current = now.get(conflict.id) ?? null;
        refuse(
          'changed-meanwhile',
          conflictSentence(kind, conflict, current, revision, baseRevision),
          ['changes', changes.indexOf(conflict), 'before'],
          {
            current,
            revision,
          },
        );
      }
    }
  }

  private refuseUnlessThere(project: typeof schema.projects.$inferSelect | undefined): asserts project {
    if (!project) refuse('not-there', 'There is no such project.');
    if (project.deletedAt)
      refuse('not-there', `“${String(project.body['name'])}” was deleted. It can be taken back from the list of projects for a day.`);
  }

  private async load(db: Tables, projectId: string): Promise<Held> {
    const [project] = await db.select().from(schema.projects).where(eq(schema.projects.id, projectId));
    this.refuseUnlessThere(project);
    const lists: Partial<Record<string, Row[]>> = {};
    for (const kind of listedKinds) lists[listOf(kind)] = await rowsOf(db, kind, projectId);
    const document = { project: project.body, ...lists } as unknown as ProjectDocument;
    return { revision: project.revision, document, ...nextSteps(await this.history(db, projectId)) };
  }

  /** The newest thousand entries are enough for undo; older edits stay in the audit list. */
  private async history(db: Tables, projectId: string): Promise<UndoEntry[]> {
    const { id, kind, of, label, revision } = schema.changeSets;
    const newest = await db
      .select({ id, kind, of, label })
      .from(schema.changeSets)
      .where(eq(schema.changeSets.projectId, projectId))
      .orderBy(desc(revision))
      .limit(1000);
    return newest.reverse();
  }
}

function nextSteps(history: readonly UndoEntry[]): { undo: string | null; redo: string | null } {
  const stacks = undoStacks(history);
  const labelOf = (id: string | undefined) => history.find((entry) => entry.id === id)?.label ?? null;
  return { undo: labelOf(stacks.undo.at(-1)), redo: labelOf(stacks.redo.at(-1)) };
}

function conflictSentence(kind: EntityKind, change: Change, current: Row | null, revision: number, base: number | null): string {
  const name = String((current ?? change.before)?.['name'] ?? `this ${kind}`);
  const since = base !== null && base < revision ? ` since revision ${base}, on which this edit rests (the project is at ${revision})` : '';
  if (!current) return `“${name}” was deleted${since}. Nothing was changed.`;
  if (!change.before) return `“${name}” is already there. Nothing was changed.`;
  return `“${name}” was changed by somebody else${since}. Nothing was overwritten; look at it as it is now and edit again.`;
}
