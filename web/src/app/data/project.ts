import { inject, Injectable } from '@angular/core';
import type { Accepted } from '@plain-envoy/core/feed';
import { applyChanges, byPlace, type Change, type Point, type ProjectDocument } from '@plain-envoy/core/model';
import { BehaviorSubject, merge, type Observable, of, Subject, switchMap, tap } from 'rxjs';
import { type Answer, Api } from './api';
import { Live } from './live';
import { PROJECT_ID } from './project-id';
import { derived } from './state';

interface Opened {
  revision: number;
  document: ProjectDocument;
  undo: string | null;
  redo: string | null;
  /** What made this document out of the one before; missing where it was loaded as a whole. */
  edit?: Edit;
}

export type OpenedDocument = Pick<Opened, 'document' | 'edit'>;

export interface Edit {
  from: ProjectDocument;
  changes: readonly Change[];
}

/** The open project: its document at a revision, and the edits of it. Edits of other pages arrive through the live feed. */
@Injectable({ providedIn: 'root' })
export class ProjectStore {
  private readonly api = inject(Api);
  private readonly id = inject(PROJECT_ID);
  private readonly opened = new BehaviorSubject<Opened | null>(null);
  private readonly trouble = new BehaviorSubject<string | null>(null);
  private readonly loads = new Subject<void>();

  /** The document with the edit that led to it; null before it is loaded. */
  readonly opened$: Observable<OpenedDocument | null> = this.opened;
  /** Why the project cannot be shown; null while all is well. */
  readonly problem$: Observable<string | null> = this.trouble;
  readonly document$ = derived(this.opened, (opened) => opened?.document ?? null);
  readonly revision$ = derived(this.opened, (opened) => opened?.revision ?? 0);
  readonly undoLabel$ = derived(this.opened, (opened) => opened?.undo ?? null);
  readonly redoLabel$ = derived(this.opened, (opened) => opened?.redo ?? null);

  readonly devices$ = derived(this.rowsOf('devices'), byId);
  readonly points$ = derived(this.rowsOf('points'), byId);
  readonly rounds$ = derived(this.rowsOf('rounds'), byId);
  /** The devices with a port on a serial line: only there is a broadcast. */
  readonly onSerialLines$ = derived(
    this.rowsOf('ports'),
    (ports) => new Set(ports.flatMap(({ kind, deviceId }) => (kind === 'serial' ? [deviceId] : []))),
  );
  readonly pointsOf$ = derived(this.rowsOf('points'), (points) => {
    const groups = new Map<string, Point[]>();
    for (const point of points)
      groups
        .set(point.deviceId, groups.get(point.deviceId) ?? [])
        .get(point.deviceId)!
        .push(point);
    for (const group of groups.values()) group.sort(byPlace);
    return groups;
  });

  constructor() {
    const live = inject(Live);
    live.accepted$.subscribe((accepted) => this.take(accepted));
    merge(live.returned$, this.loads)
      .pipe(switchMap(() => this.api.get<Opened>(`projects/${this.id}`)))
      .subscribe((answer) => {
        this.trouble.next(answer.ok ? null : answer.problem.message);
        if (answer.ok) this.opened.next(answer.value);
      });
  }

  /** The document as it is at this moment; null before it is loaded. */
  get current(): ProjectDocument | null {
    return this.opened.value?.document ?? null;
  }

  /** Fetches the project as a whole. */
  load(): void {
    this.loads.next();
  }

  /** Saves an edit as one change set. A refusal leaves everything as it is and says why. */
  commit(label: string, changes: Change[]): Observable<Answer<Accepted>> {
    const opened = this.opened.value;
    if (!opened) return of(noneOpen);
    return this.send(`projects/${this.id}/change-sets`, { label, baseRevision: opened.revision, changes });
  }

  step(kind: 'undo' | 'redo'): Observable<Answer<Accepted>> {
    return this.send(`projects/${this.id}/${kind}`, {});
  }

  private rowsOf<Kind extends 'devices' | 'points' | 'rounds' | 'ports'>(kind: Kind): Observable<ProjectDocument[Kind]> {
    return derived(this.opened, (opened) => opened?.document[kind] ?? ([] as ProjectDocument[Kind]));
  }

  private send(path: string, body: unknown): Observable<Answer<Accepted>> {
    return this.api.post<Accepted>(path, body).pipe(tap((answer) => answer.ok && this.take(answer.value)));
  }

  /** An accepted edit, which may arrive twice: as the answer to who made it, and through the feed. */
  private take(accepted: Accepted): void {
    const opened = this.opened.value;
    if (!opened || accepted.revision <= opened.revision) return;
    if (accepted.revision !== opened.revision + 1) return this.load();
    const { revision, undo, redo, changes } = accepted;
    const from = opened.document;
    this.opened.next({ revision, undo, redo, document: applyChanges(from, changes), edit: { from, changes } });
  }
}

const noneOpen: Answer<never> = { ok: false, problem: { message: 'No project is open.', path: [] } };

function byId<T extends { id: string }>(rows: readonly T[]): Map<string, T> {
  return new Map(rows.map((row) => [row.id, row]));
}
