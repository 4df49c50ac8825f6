import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, output, signal, untracked } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { formatAddress, isBitTable, readDeviceAddress, type Table, tableNames, tables } from '@plain-envoy/core/address';
import { spansOf } from '@plain-envoy/core/map';
import type { Forbidden } from '@plain-envoy/core/model';
import type { Subscription } from 'rxjs';
import { Refused } from '../../data/api';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { Proofs } from '../../data/proofs';
import { atEdge } from '../../data/state';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { forgetRefusals, problemIn, refuseIn } from '../../parts/schema-group';
import { MapState } from './map-state';
import type { Span } from './strip';
import { viewsOf } from './words';
import type { Column } from '../../parts/table/column';
import { Table as RowTable } from '../../parts/table/table';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

const SHOWN = 256;
const EVERY_MS = 1000;
/** So many are read where nobody has marked a span. */
const MOST = 200;

/** A register as it was read. */
interface WordRow {
  offset: number;
  address: string;
  refused: string | null;
  views: ReturnType<typeof viewsOf>;
}

/** Reads a span of the device, once or again and again, and shows each register in every way in which it may be meant. */
@Component({
  selector: 'pe-read-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, RowTable, TextField],
  template: `<h2>Read {{ state.device()?.name }}</h2>
    <form [formGroup]="form()" (ngSubmit)="start()">
      <div class="fields">
        <pe-choose label="Table" name="table" formControlName="table" [options]="tables" />
        <pe-choose label="From" name="on" formControlName="on" [options]="places" />
        <pe-text label="First, in any notation" name="first" formControlName="first" />
        <pe-text label="Count" name="count" numeric formControlName="count" />
        <mat-checkbox class="wide" name="again" formControlName="repeat">again every second, until stopped</mat-checkbox>
      </div>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        @if (running()) {
          <button mat-flat-button type="button" (click)="stop()">Stop</button>
        } @else {
          <button mat-flat-button type="submit">Read</button>
        }
        <button mat-button type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>
    @if (told(); as text) {
      <p class="quiet" aria-live="polite">{{ text }}</p>
    }
    @if (refusedSpans().length) {
      <p class="remark">
        It refuses {{ spansText() }}.
        @if (unkept().length) {
          <button mat-button type="button" (click)="keep()">Keep as forbidden</button>
        } @else {
          This is kept: no request will go across.
        }
      </p>
    }
    @if (rows().length) {
      <pe-table class="words" label="Registers read" [columns]="columns()" [rows]="rows()" [idOf]="idOf" />
      @if (more() > 0) {
        <p class="quiet">{{ more() }} more are in the strip; read a shorter span to see them here.</p>
      }
    }`,
  styles: `
    .actions,
    .problem,
    .remark {
      margin-top: 10px;
    }
    .words {
      overflow: auto;
      margin-top: 8px;
    }
    h2 {
      margin: 8px 0;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class ReadPanel {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly proofs = inject(Proofs);
  private readonly editor = inject(Editor);
  /** What a person has marked in the strip, to start from. */
  readonly span = input<Span | null>(null);
  readonly closed = output();

  protected readonly tables = asOptions(tables, (table) => tableNames[table].many);
  protected readonly places: Option<'stand-ins' | 'real'>[] = [
    { value: 'stand-ins', text: 'its stand-in' },
    { value: 'real', text: 'the real plant' },
  ];
  /** Begun anew for each device, and for each span that is marked. */
  protected readonly form = computed(() => {
    this.state.deviceId();
    const span = this.span();
    return untracked(() => {
      const table: Table = span?.table ?? this.state.focusedPoint()?.table ?? this.state.points()[0]?.table ?? 'holding';
      const [first, last] = span && span.last > span.first ? [span.first, span.last] : this.own(table, span?.first);
      const typed = this.typedSpan(table, first, last);
      const form = new FormGroup({
        table: controlOf(table),
        on: controlOf<'stand-ins' | 'real'>('stand-ins'),
        first: textControl(typed.first),
        count: textControl(typed.count),
        repeat: controlOf(false),
      });
      form.controls.table.valueChanges.subscribe((chosen) => form.patchValue(this.typedSpan(chosen, ...this.own(chosen))));
      return form;
    });
  });
  protected readonly problem = problemIn(this.form);
  protected readonly running = signal(false);
  protected readonly told = signal<string | null>(null);
  private readonly latest = signal<{ table: Table; first: number; last: number } | null>(null);
  protected readonly bits = computed(() => isBitTable(this.latest()?.table ?? 'holding'));
  private subscription: Subscription | null = null;

  private readonly all = computed(() => {
    const latest = this.latest();
    const read = latest && this.state.read(latest.table);
    if (!latest || !read) return [];
    const found = [];
    for (let offset = latest.first; offset <= latest.last; offset++) {
      const word = read.words.get(offset);
      const refused = read.refused.get(offset) ?? null;
      if (word === undefined && refused === null) continue;
      found.push({ offset, refused, word: word ?? 0, next: read.words.get(offset + 1) });
    }
    return found;
  });
  protected readonly rows = computed((): WordRow[] =>
    this.all()
      .slice(0, SHOWN)
      .map(({ offset, refused, word, next }) => ({
        offset,
        refused,
        address: this.writtenLast(offset),
        views: viewsOf(word, next),
      })),
  );
  protected readonly idOf = ({ offset }: WordRow): string => String(offset);
  protected readonly columns = computed((): readonly Column<WordRow>[] => {
    const view = (name: string, head: string, kind: string, text: (views: WordRow['views']) => string) => ({
      ...{ name, head, kind },
      text: ({ views, refused }: WordRow) => (refused ? '' : text(views)),
    });
    const orders = ['Float ABCD', 'CDAB', 'BADC', 'DCBA'];
    return [
      { name: 'address', head: 'Address', text: ({ address }) => address, kind: 'mono' },
      {
        name: 'decimal',
        head: this.bits() ? 'Bit' : 'Decimal',
        text: ({ views, refused }) => (refused ? `refused: ${refused}` : views.decimal),
        kind: 'mono number',
        classOf: ({ refused }) => (refused ? 'bad' : ''),
      },
      ...(this.bits()
        ? []
        : [
            view('signed', 'Signed', 'mono number', ({ signed }) => signed),
            view('hex', 'Hex', 'mono', ({ hex }) => hex),
            view('binary', 'Binary', 'mono', ({ binary }) => binary),
            view('text', 'Text', 'mono', ({ text }) => text),
            ...orders.map((head, index) => view(head, head, 'mono number', ({ floats }) => floats[index] ?? '')),
          ]),
    ];
  });
  protected readonly more = computed(() => this.all().length - this.rows().length);
  protected readonly refusedSpans = computed(() =>
    spansOf(this.all().flatMap(({ offset, refused }) => (refused === null ? [] : [offset]))),
  );
  protected readonly spansText = computed(() =>
    this.refusedSpans()
      .map(([first, last]) => (first === last ? this.writtenLast(first) : `${this.writtenLast(first)} to ${this.writtenLast(last)}`))
      .slice(0, 6)
      .join(', '),
  );
  protected readonly unkept = computed(() => {
    const known = this.state.device()?.forbidden ?? [];
    const table = this.latest()?.table;
    return this.refusedSpans().filter(
      ([first, last]) => !known.some((span) => span.table === table && span.first <= first && span.last >= last),
    );
  });

  constructor() {
    effect(() => {
      this.state.deviceId();
      this.stop();
      this.latest.set(null);
      this.told.set(null);
    });
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected start(): void {
    const form = this.form();
    forgetRefusals(form);
    const typed = form.getRawValue();
    const read = readDeviceAddress(typed.first, this.state.context());
    if (!read.ok) return refuseIn(form, { message: read.problem.message, path: ['first'] });
    const { offset: first, table } = read.value[0]!;
    if (table) form.controls.table.setValue(table, { emitEvent: false });
    const count = typedNumber(typed.count);
    const span = { table: table ?? typed.table, first, last: first + count - 1 };
    this.running.set(true);
    this.told.set('Reading …');
    const words = new Map<number, number>();
    const refused = new Map<number, string>();
    const body = {
      on: typed.on,
      deviceId: this.state.deviceId(),
      table: span.table,
      first,
      count,
      everyMs: typed.repeat ? EVERY_MS : null,
    };
    this.subscription = this.proofs.read(this.project.document()!.project.id, body).subscribe({
      next: (event) => {
        if (event.kind === 'words') event.words.forEach((word, index) => words.set(event.first + index, word));
        else if (event.kind === 'refused') refused.set(event.offset, event.why);
        else if (event.kind === 'failed') refuseIn(form, { message: event.sentence, path: [] });
        else
          this.told.set(
            `Round ${event.round}: ${words.size} read${refused.size ? `, ${refused.size} refused` : ''}, in ${event.tookMs} ms.`,
          );
        if (event.kind === 'words' || event.kind === 'refused') this.told.set(`Reading … ${words.size} read, ${refused.size} refused`);
        if (event.kind === 'round' || event.kind === 'failed') {
          this.state.take(span.table, words, refused);
          this.latest.set(span);
        }
      },
      error: (error: unknown) => {
        this.ended();
        this.told.set(null);
        if (error instanceof Refused) refuseIn(form, error.problem);
      },
      complete: () => this.ended(),
    });
  }

  protected stop(): void {
    this.subscription?.unsubscribe();
    this.ended();
  }

  /** What the device refuses is kept with it, so that no plan reads across. */
  protected keep(): void {
    const device = this.state.device()!;
    const spans: Forbidden[] = this.unkept().map(([first, last]) => ({ table: this.latest()!.table, first, last }));
    const after = { ...device, forbidden: [...device.forbidden, ...spans] };
    this.store
      .commit(`Keep what ${device.name} refuses`, [{ entity: 'device', id: device.id, before: device, after }])
      .subscribe((answer) => {
        if (answer.ok) this.editor.say(`Kept: ${spans.length} forbidden stretch${spans.length === 1 ? '' : 'es'}`);
        else refuseIn(this.form(), answer.problem);
      });
  }

  private ended(): void {
    this.subscription = null;
    this.running.set(false);
  }

  private typedSpan(table: Table, first: number, last: number): { first: string; count: string } {
    return { first: this.written(first, table), count: String(last - first + 1) };
  }

  /** First and last offset of the points of this table, from an offset on where one is given. */
  private own(table: Table, from?: number): [number, number] {
    const offsets = this.state.points().flatMap((point) => (point.table === table ? [point.offset] : []));
    const [first, last] = offsets.length ? [Math.min(...offsets), Math.max(...offsets) + 3] : [0, 15];
    return [from ?? first, Math.min((from ?? first) + MOST - 1, Math.max(from ?? first, last))];
  }

  /** An address of what was read last. */
  private writtenLast(offset: number): string {
    return this.written(offset, this.latest()!.table);
  }

  private written(offset: number, table: Table): string {
    return formatAddress({ table, offset }, this.state.notation(), this.state.device()?.areas);
  }
}
