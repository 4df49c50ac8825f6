import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { Title } from '@angular/platform-browser';
import type { LibraryRow } from '@plain-envoy/core/feed';
import type { DeviceTemplate } from '@plain-envoy/core/model';
import { readTemplate } from '@plain-envoy/core/project-file';
import { concatMap, from, map, type Observable, of, toArray } from 'rxjs';
import { Library } from '../data/library';
import { Messages } from '../data/messages';
import { atEdge } from '../data/state';
import { textControl } from '../parts/controls';
import { downloadBlob } from '../parts/download';
import { CellTemplate, type Column } from '../parts/table/column';
import { Table } from '../parts/table/table';
import { templateFileName } from '../parts/template-file';
import { TextField } from '../parts/text-field';

const dates = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
/** So many files that could not be taken are told one by one. */
const MAX_TOLD = 5;

/** The devices of the library: in from files or a whole folder of them, and out as files. */
@Component({
  selector: 'pe-library-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatButtonModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './library-view.html',
  styleUrl: './view.scss',
})
export class LibraryView {
  private readonly store = inject(Library);
  protected readonly library = atEdge(this.store, 'all', 'problem');
  private readonly messages = inject(Messages);
  protected readonly search = textControl('');
  private readonly words = toSignal(this.search.valueChanges, { initialValue: '' });
  protected readonly chosen = signal<ReadonlySet<string>>(new Set());
  protected readonly problem = signal<string | null>(null);
  protected readonly idOf = ({ id }: LibraryRow) => id;
  protected readonly rows = computed(() => {
    const word = this.words().trim().toLowerCase();
    return this.library.all()?.filter(({ name, note }) => `${name} ${note}`.toLowerCase().includes(word)) ?? null;
  });
  protected readonly nothing = computed(() =>
    this.words().trim()
      ? `No device here has “${this.words().trim()}” in its name or note.`
      : 'The library is empty. Give a device from its panel on Site, or drop files of saved devices here.',
  );
  protected readonly columns: readonly Column<LibraryRow>[] = [
    { name: 'name', head: 'Device', text: ({ name }) => name, by: ({ name }) => name },
    { name: 'version', head: 'Version', kind: 'number', text: ({ version }) => version, by: ({ version }) => version },
    { name: 'points', head: 'Points', kind: 'number', text: ({ points }) => points, by: ({ points }) => points },
    { name: 'at', head: 'Given', text: ({ atMs, by }) => `${dates.format(atMs)}${by ? ` by ${by}` : ''}`, by: ({ atMs }) => atMs },
    { name: 'note', head: 'Note', text: ({ note }) => note },
    { name: 'actions', head: '' },
  ];

  constructor() {
    inject(Title).setTitle('Library · Plain Envoy');
  }

  protected save(row: LibraryRow): void {
    this.store.get(row).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok)
        downloadBlob(new Blob([JSON.stringify(answer.value, null, 2)], { type: 'application/json' }), templateFileName(row.name));
    });
  }

  protected remove(row: LibraryRow): void {
    this.store.get(row).subscribe((kept) => {
      this.store.remove(row.id).subscribe((answer) => {
        this.problem.set(answer.ok ? null : answer.problem.message);
        if (!answer.ok) return;
        const again = () => kept.ok && this.store.give(kept.value, null).subscribe();
        this.messages.offer(`${row.name} is in the library no more; projects that have it keep it.`, 'Take back').subscribe(again);
      });
    });
  }

  protected dropped(event: DragEvent): void {
    event.preventDefault();
    this.takeIn(event.dataTransfer?.files ?? null);
  }

  /** Takes saved devices in, one after the other; those that are none are told with why, and the others are taken. */
  protected takeIn(files: FileList | null): void {
    const all = [...(files ?? [])].filter(({ name }) => name.toLowerCase().endsWith('.json'));
    if (all.length === 0) {
      if (files?.length) this.problem.set('There is no saved device among these files: they end in .json.');
      return;
    }
    from(all)
      .pipe(
        concatMap((file) => this.taken(file)),
        toArray(),
      )
      .subscribe((results) => {
        const problems = results.filter((problem) => problem !== null);
        const more = problems.length > MAX_TOLD ? ` And ${problems.length - MAX_TOLD} more.` : '';
        this.problem.set(problems.length ? `${problems.slice(0, MAX_TOLD).join(' ')}${more}` : null);
        const count = results.length - problems.length;
        if (count) this.messages.say(`${count} device${count === 1 ? ' was' : 's were'} taken into the library.`);
      });
  }

  protected key(event: KeyboardEvent, row: LibraryRow): void {
    if (event.key !== 'Delete') return;
    event.preventDefault();
    this.remove(row);
  }

  /** Why a file was not taken; null where it was. One that has the name of a device that is there is its next version. */
  private taken(file: File): Observable<string | null> {
    return from(file.text()).pipe(
      map(readTemplate),
      concatMap((read) => (read.ok ? this.given(read.value) : of(read.problem.message))),
      map((problem) => (problem === null ? null : `${file.name}: ${problem}`)),
    );
  }

  private given(template: DeviceTemplate): Observable<string | null> {
    const there = this.library.all()?.find(({ name }) => name === template.device.name);
    return this.store.give(template, there?.id ?? null).pipe(map((answer) => (answer.ok ? null : answer.problem.message)));
  }
}
