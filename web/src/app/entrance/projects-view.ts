import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { Title } from '@angular/platform-browser';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { ListedProject, TakeInEvent } from '@plain-envoy/core/feed';
import type { Project } from '@plain-envoy/core/model';
import type { Observable, Subscription } from 'rxjs';
import { type Answer, Refused } from '../data/api';
import { addressOf } from '../data/project-id';
import { fileAddress, Projects } from '../data/projects';
import { atEdge } from '../data/state';
import type { AboutProjectData } from '../parts/about-project';
import { controlOf, textControl } from '../parts/controls';
import { Dialogs } from '../parts/dialogs';
import { download } from '../parts/download';
import { Icon } from '../parts/icon';
import { Messages } from '../data/messages';
import { CellTemplate } from '../parts/table/column';
import { Table } from '../parts/table/table';
import { TextField } from '../parts/text-field';
import { columns } from './columns';

const aboutProject = () => import('../parts/about-project').then((file) => file.AboutProject);
const fromRecording = () => import('./from-recording').then((file) => file.FromRecording);
const listenIn = () => import('./listen-in').then((file) => file.ListenIn);
const beginProject = () => import('./begin-project').then((file) => file.BeginProject);

/** All projects, and the ways to begin one, to take one in and to give one away. */
@Component({
  selector: 'pe-projects-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[CellTemplate, Icon, Table, TextField, ReactiveFormsModule],
    ...[MatButtonModule, MatButtonToggleModule, MatMenuModule, MatProgressBarModule],
  ],
  templateUrl: './projects-view.html',
  styleUrl: './view.scss',
  host: { '(document:keydown)': 'pageKey($event)' },
})
export class ProjectsView {
  private readonly store = inject(Projects);
  protected readonly projects = atEdge(this.store, 'all', 'problem');
  private readonly dialogs = inject(Dialogs);
  private readonly messages = inject(Messages);
  protected readonly columns = columns;
  protected readonly addressOf = addressOf;
  protected readonly idOf = ({ id }: ListedProject) => id;
  protected readonly search = textControl('');
  protected readonly shown = controlOf<'worked-on' | 'archived' | 'deleted'>('worked-on');
  protected readonly chosen = signal<ReadonlySet<string>>(new Set());
  /** Why the last thing was not done; null where it was. */
  protected readonly problem = signal<string | null>(null);
  /** What is being taken in: a word about it, and which share is done where that is known. */
  protected readonly taking = signal<{ text: string; share: number | null } | null>(null);
  private taken: Subscription | null = null;

  private readonly words = toSignal(this.search.valueChanges, { initialValue: '' });
  private readonly which = toSignal(this.shown.valueChanges, { initialValue: this.shown.value });
  protected readonly counts = computed(() => {
    const all = this.projects.all() ?? [];
    return {
      archived: all.filter((row) => kindOf(row) === 'archived').length,
      deleted: all.filter((row) => kindOf(row) === 'deleted').length,
    };
  });
  protected readonly rows = computed(() => {
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    const has = ({ name, client, note }: ListedProject) => words.every((word) => `${name} ${client} ${note}`.toLowerCase().includes(word));
    return this.projects.all()?.filter((row) => kindOf(row) === this.which() && has(row)) ?? null;
  });
  protected readonly nothing = computed(() => {
    if (this.words().trim()) return `No project here has “${this.words().trim()}” in its name, client or note.`;
    const none = { 'worked-on': 'There is no project yet. Begin one, or drop the file of one here.', archived: 'No project is put away.' };
    return { ...none, deleted: 'Nothing was deleted within the last day.' }[this.which()];
  });

  constructor() {
    inject(Title).setTitle('Projects · Plain Envoy');
  }

  protected open({ id, deletedAtMs }: Pick<ListedProject, 'id' | 'deletedAtMs'>): void {
    if (deletedAtMs === null) this.goTo(addressOf(id));
  }

  /** A project has a page of its own. */
  protected goTo(address: string): void {
    location.assign(address);
  }

  protected begin(): void {
    this.dialogs
      .open<Project>(beginProject, { width: '640px', maxWidth: '94vw', autoFocus: 'input[name=name]' })
      .subscribe((project) => project && this.goTo(addressOf(project.id)));
  }

  protected about({ id, name, client, note }: ListedProject): void {
    const data: AboutProjectData = { about: { name, client, note }, save: (about) => this.store.about(id, about) };
    this.dialogs.open(aboutProject, { data, width: '480px', maxWidth: '94vw', autoFocus: 'input[name=name]' }).subscribe();
  }

  protected duplicate({ id, name }: ListedProject): void {
    this.done(this.store.duplicate(id), (copy) => `${name} was copied; the copy is ${copy.name}.`);
  }

  protected save({ id, name }: ListedProject, evidence: 'with' | 'without'): void {
    download(fileAddress(id, evidence), `${name}.plain-envoy.json`);
  }

  protected archive({ id, name, isArchived }: ListedProject): void {
    this.done(this.store.archive(id, !isArchived), () => `${name} was ${isArchived ? 'brought back' : 'put away'}.`);
  }

  protected remove(row: ListedProject): void {
    this.store.remove(row.id).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (!answer.ok) return;
      this.messages.offer(`${row.name} was deleted. For a day it is among the deleted.`, 'Take back').subscribe(() => this.restore(row));
    });
  }

  protected restore({ id, name }: ListedProject): void {
    this.done(this.store.restore(id), () => `${name} is there again.`);
  }

  /** A recording becomes a project once it is seen what that would be. */
  protected recorded(file: File | undefined): void {
    if (!file || this.dialogs.isOpen()) return;
    this.dialogs
      .open<string>(fromRecording, { data: file, width: '920px', maxWidth: '94vw', autoFocus: 'dialog' })
      .subscribe((id) => id !== undefined && this.goTo(addressOf(id)));
  }

  /** The same while it is listened. */
  protected listenIn(): void {
    if (this.dialogs.isOpen()) return;
    this.dialogs
      .open<string>(listenIn, { width: '920px', maxWidth: '94vw', autoFocus: 'input[name=path]', disableClose: true })
      .subscribe((id) => id !== undefined && this.goTo(addressOf(id)));
  }

  protected dropped(event: DragEvent): void {
    event.preventDefault();
    const file = event.dataTransfer?.files[0];
    if (file && !/\.json$/i.test(file.name)) this.recorded(file);
    else this.takeIn(file);
  }

  protected takeIn(file: File | undefined): void {
    if (!file || this.taking()) return;
    this.problem.set(null);
    this.taking.set({ text: `${file.name} is read …`, share: null });
    let rows = 0;
    const told = (event: TakeInEvent) => {
      if (event.kind === 'read') rows = event.rows;
      if (event.kind === 'written') this.taking.set({ text: `${event.rows} of ${rows} rows`, share: rows ? event.rows / rows : null });
      if (event.kind === 'done') this.messages.say(`${event.name} was taken in.`);
    };
    this.taken = this.store.takeIn(file).subscribe({
      next: told,
      error: (error: unknown) => {
        this.taking.set(null);
        this.problem.set(`${file.name}: ${error instanceof Refused ? error.problem.message : String(error)}`);
      },
      complete: () => this.taking.set(null),
    });
  }

  protected stop(): void {
    this.taken?.unsubscribe();
    this.taking.set(null);
    this.messages.say('It was stopped. Nothing was taken in.');
  }

  protected key(event: KeyboardEvent, row: ListedProject): void {
    const acts: Partial<Record<string, (row: ListedProject) => void>> = {
      F2: (it) => this.about(it),
      Delete: (it) => this.remove(it),
    };
    const act = row.deletedAtMs === null ? acts[event.key] : undefined;
    if (!act) return;
    event.preventDefault();
    act(row);
  }

  protected pageKey(event: KeyboardEvent): void {
    if (event.defaultPrevented || this.dialogs.isOpen() || !event.altKey || event.key.toLowerCase() !== 'n') return;
    event.preventDefault();
    this.begin();
  }

  private done<T>(asked: Observable<Answer<T>>, sentence: (value: T) => string): void {
    asked.subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.messages.say(sentence(answer.value));
    });
  }
}

function kindOf({ deletedAtMs, isArchived }: ListedProject): 'worked-on' | 'archived' | 'deleted' {
  return deletedAtMs !== null ? 'deleted' : isArchived ? 'archived' : 'worked-on';
}
