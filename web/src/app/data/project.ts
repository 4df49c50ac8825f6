import { computed, inject, Injectable, signal } from '@angular/core';
import { applyChanges, byPlace, type Change, type Device, type Point, type ProjectDocument, type Round } from '@plain-envoy/core/model';
import { type Answer, Api } from './api';
import { Live } from './live';
import type { Accepted } from '@plain-envoy/core/feed';

interface Opened {
  revision: number;
  document: ProjectDocument;
  undo: string | null;
  redo: string | null;
  /** What made this document out of the one before; missing where it was loaded as a whole. */
  edit?: Edit;
}

export interface Edit {
  from: ProjectDocument;
  changes: readonly Change[];
}

/** The open project: its document at a revision, and the edits of it. Edits of other pages arrive through the live feed. */
@Injectable({ providedIn: 'root' })
export class ProjectStore {
  private readonly api = inject(Api);
  private readonly opened = signal<Opened | null>(null);

  /** Why the project cannot be shown; null while all is well. */
  readonly problem = signal<string | null>(null);
  readonly document = computed(() => this.opened()?.document ?? null);
  readonly revision = computed(() => this.opened()?.revision ?? 0);
  /** The edit that led to the document that is open; null after loading. */
  readonly lastEdit = computed(() => this.opened()?.edit ?? null);
  readonly undoLabel = computed(() => this.opened()?.undo ?? null);
  readonly redoLabel = computed(() => this.opened()?.redo ?? null);

  readonly devices = computed(() => byId<Device>(this.document()?.devices));
  readonly points = computed(() => byId<Point>(this.document()?.points));
  readonly rounds = computed(() => byId<Round>(this.document()?.rounds));
  /** The devices with a port on a serial line: only there is a broadcast. */
  readonly onSerialLines = computed(
    () => new Set((this.document()?.ports ?? []).flatMap(({ kind, deviceId }) => (kind === 'serial' ? [deviceId] : []))),
  );
  readonly pointsOf = computed(() => {
    const groups = new Map<string, Point[]>();
    for (const point of this.document()?.points ?? []) {
      const group = groups.get(point.deviceId) ?? [];
      group.push(point);
      groups.set(point.deviceId, group);
    }
    for (const group of groups.values()) group.sort(byPlace);
    return groups;
  });

  constructor() {
    const live = inject(Live);
    live.accepted.subscribe((accepted) => this.take(accepted));
    live.returned.subscribe(() => void this.load());
  }

  /** Opens the project that was open already, or the first there is. */
  async load(): Promise<void> {
    const list = await this.api.get<{ id: string }[]>('projects');
    if (!list.ok) return this.problem.set(list.problem.message);
    const id = this.document()?.project.id ?? list.value[0]?.id;
    if (!id) return this.problem.set('There is no project yet.');
    const project = await this.api.get<Opened>(`projects/${id}`);
    if (!project.ok) return this.problem.set(project.problem.message);
    this.problem.set(null);
    this.opened.set(project.value);
  }

  /** Saves an edit as one change set. A refusal leaves everything as it is and says why. */
  async commit(label: string, changes: Change[]): Promise<Answer<Accepted>> {
    const opened = this.opened();
    if (!opened) return { ok: false, problem: { message: 'No project is open.', path: [] } };
    return this.send(`projects/${opened.document.project.id}/change-sets`, { label, baseRevision: opened.revision, changes });
  }

  async step(kind: 'undo' | 'redo'): Promise<Answer<Accepted>> {
    return this.send(`projects/${this.document()?.project.id}/${kind}`, {});
  }

  private async send(path: string, body: unknown): Promise<Answer<Accepted>> {
    const answer = await this.api.post<Accepted>(path, body);
    if (answer.ok) this.take(answer.value);
    return answer;
  }

  /** An accepted edit, which may arrive twice: as the answer to who made it, and through the feed. */
  private take(accepted: Accepted): void {
    const opened = this.opened();
    if (!opened || accepted.projectId !== opened.document.project.id || accepted.revision <= opened.revision) return;
    if (accepted.revision !== opened.revision + 1) {
      void this.load();
      return;
    }
    const { revision, undo, redo, changes } = accepted;
    const from = opened.document;
    this.opened.set({ revision, undo, redo, document: applyChanges(from, changes), edit: { from, changes } });
  }
}

function byId<T extends { id: string }>(rows: readonly T[] | undefined): Map<string, T> {
  return new Map((rows ?? []).map((row) => [row.id, row]));
}
