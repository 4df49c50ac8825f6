import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { formatAddress, isBitTable, readAddress, type Table, tableNames, tables } from '@plain-envoy/core/address';
import type { Forbidden } from '@plain-envoy/core/model';
import type { Subscription } from 'rxjs';
import { Refused } from '../../data/api';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { Proofs } from '../../data/proofs';
import { atEdge } from '../../data/state';
import { FieldProblems, typedNumber } from '../../parts/form';
import { MapState } from './map-state';
import type { Span } from './strip';
import { viewsOf } from './words';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

const SHOWN = 256;
const EVERY_MS = 1000;

/** Reads a span of the device, once or again and again, and shows each register in every way in which it may be meant. */
@Component({
  selector: 'pe-read-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, TextField],
  template: `<h2>Read {{ state.device()?.name }}</h2>
    <form (submit)="$event.preventDefault(); start()">
      <div class="fields">
        <pe-choose label="Table" name="table" [options]="tables" [(value)]="table" />
        <pe-choose label="From" name="on" [options]="places" [(value)]="on" />
        <pe-text label="First, in any notation" name="first" [problem]="problems.of('first')" [(value)]="first" />
        <pe-text label="Count" name="count" numeric [problem]="problems.of('count')" [(value)]="count" />
        <mat-checkbox class="wide" name="again" [checked]="repeat()" (change)="repeat.set($event.checked)"
          >again every second, until stopped</mat-checkbox
        >
      </div>
      @if (problems.rest(['first', 'count']); as text) {
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
      <div class="words">
        <table class="paper-table" aria-label="Registers read">
          <thead>
            <tr>
              <th>Address</th>
              <th class="number">Value</th>
              @if (!bits()) {
                <th class="number">Signed</th>
                <th>Hex</th>
                <th>Binary</th>
                <th>Text</th>
                <th class="number">Float ABCD</th>
                <th class="number">CDAB</th>
                <th class="number">BADC</th>
                <th class="number">DCBA</th>
              }
            </tr>
          </thead>
          <tbody>
            @for (row of rows(); track row.offset) {
              <tr>
                <td class="mono">{{ row.address }}</td>
                @if (row.refused) {
                  <td class="quiet" colspan="9">refused: {{ row.refused }}</td>
                } @else {
                  <td class="mono number">{{ row.views.decimal }}</td>
                  @if (!bits()) {
                    <td class="mono number">{{ row.views.signed }}</td>
                    <td class="mono">{{ row.views.hex }}</td>
                    <td class="mono">{{ row.views.binary }}</td>
                    <td class="mono">{{ row.views.text }}</td>
                    @for (float of row.views.floats; track $index) {
                      <td class="mono number">{{ float }}</td>
                    }
                  }
                }
              </tr>
            }
          </tbody>
        </table>
      </div>
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
  protected readonly problems = new FieldProblems();
  protected readonly on = signal<'stand-ins' | 'real'>('stand-ins');
  protected readonly repeat = signal(false);
  protected readonly table = linkedSignal<Table>(
    () => this.span()?.table ?? this.state.focusedPoint()?.table ?? this.state.points()[0]?.table ?? 'holding',
  );
  protected readonly first = linkedSignal(() => this.written(this.span()?.first ?? this.own()[0] ?? 0));
  protected readonly count = linkedSignal(() => {
    const span = this.span();
    return String(span && span.last > span.first ? span.last - span.first + 1 : Math.min(200, this.own()[1] - this.own()[0] + 1));
  });
  protected readonly running = signal(false);
  protected readonly told = signal<string | null>(null);
  protected readonly bits = computed(() => isBitTable(this.table()));
  private readonly latest = signal<{ table: Table; first: number; last: number } | null>(null);
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
  protected readonly rows = computed(() =>
    this.all()
      .slice(0, SHOWN)
      .map(({ offset, refused, word, next }) => ({
        offset,
        refused,
        address: this.written(offset, this.latest()!.table),
        views: viewsOf(word, next),
      })),
  );
  protected readonly more = computed(() => this.all().length - this.rows().length);
  protected readonly refusedSpans = computed(() =>
    spansOf(this.all().flatMap(({ offset, refused }) => (refused === null ? [] : [offset]))),
  );
  protected readonly spansText = computed(() =>
    this.refusedSpans()
      .map(([first, last]) => (first === last ? this.written(first) : `${this.written(first)} to ${this.written(last)}`))
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
    this.problems.clear();
    const { notation, areas } = this.state.context();
    const read = readAddress(this.first(), { notation, areas });
    const any = read.ok ? read : readAddress(this.first(), { areas });
    if (!any.ok) return this.problems.set([['first', any.problem.message]]);
    const { offset: first, table } = any.value[0]!;
    if (table) this.table.set(table);
    const count = typedNumber(this.count());
    const span = { table: this.table(), first, last: first + count - 1 };
    this.running.set(true);
    this.told.set('Reading …');
    const words = new Map<number, number>();
    const refused = new Map<number, string>();
    const body = {
      on: this.on(),
      deviceId: this.state.deviceId(),
      table: span.table,
      first,
      count,
      everyMs: this.repeat() ? EVERY_MS : null,
    };
    this.subscription = this.proofs.read(this.project.document()!.project.id, body).subscribe({
      next: (event) => {
        if (event.kind === 'words') event.words.forEach((word, index) => words.set(event.first + index, word));
        else if (event.kind === 'refused') refused.set(event.offset, event.why);
        else if (event.kind === 'failed') this.problems.set([['', event.sentence]]);
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
        if (error instanceof Refused) this.problems.set([[String(error.problem.path[0] ?? ''), error.problem.message]]);
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
        else this.problems.set([['', answer.problem.message]]);
      });
  }

  private ended(): void {
    this.subscription = null;
    this.running.set(false);
  }

  /** First and last offset of the points of this table. */
  private own(): [number, number] {
    const offsets = this.state.points().flatMap((point) => (point.table === this.table() ? [point.offset] : []));
    return offsets.length ? [Math.min(...offsets), Math.max(...offsets) + 3] : [0, 15];
  }

  private written(offset: number, table = this.table()): string {
    return formatAddress({ table, offset }, this.state.notation(), this.state.device()?.areas);
  }
}

/** Offsets in a row as first and last. */
function spansOf(offsets: readonly number[]): [first: number, last: number][] {
  const spans: [number, number][] = [];
  for (const offset of offsets) {
    const last = spans.at(-1);
    if (last && last[1] === offset - 1) last[1] = offset;
    else spans.push([offset, offset]);
  }
  return spans;
}
