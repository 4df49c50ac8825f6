import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { type Point, rawText } from '@plain-envoy/core/model';
import { findOrder, type OrderCandidate, shortOrder } from '@plain-envoy/core/value';
import { Editor } from '../../data/editor';
import { textControl } from '../../parts/controls';
import { focusOnOpen } from '../../parts/focus';
import { numberValidator, typedNumber } from '../../parts/form';
import { addressOf } from '../../parts/format';
import { valueIn } from '../../parts/schema-group';
import { MapState } from './map-state';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';

const AROUND = 4;
const SHOWN = 12;

/** “I expect about 61.5 here”: which type, order and scale make the registers say so, and one action to take it over. */
@Component({
  selector: 'pe-order-help',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatButtonModule, ReactiveFormsModule, Table, TextField],
  template: `<h2>Find the order</h2>
    @if (state.focusedPoint(); as point) {
      <p class="quiet">
        {{ point.name }}, {{ address(point) }}: {{ point.type }} {{ point.type === 'bit' ? '' : point.order }}.
        @if (words(); as held) {
          The registers from here on hold <span class="mono">{{ rawText(held, point) }}</span>.
        } @else {
          Nothing has been read here yet.
        }
      </p>
      <form [formGroup]="form()" (ngSubmit)="takeFirst()">
        <pe-text label="I expect about" name="expected" numeric formControlName="expected" />
        <div class="actions">
          @if (!words()) {
            <button mat-flat-button type="button" (click)="read(point)" [disabled]="reading()">Read it now</button>
          } @else if (candidates().length) {
            <button mat-flat-button type="submit">Take the first</button>
            <button mat-button type="button" (click)="read(point)" [disabled]="reading()">Read again</button>
          }
          <button mat-button type="button" (click)="closed.emit()">Close</button>
        </div>
      </form>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      @if (candidates().length) {
        <pe-table label="Readings, best first" [columns]="columns" [rows]="candidates()" [idOf]="idOf" [rowClass]="firstOf">
          <ng-template peCell="take" let-row><button mat-button type="button" (click)="take(row)">Take</button></ng-template>
        </pe-table>
      } @else if (words() && isNumber()) {
        <p class="quiet">No type, order and power of ten gives about this. Is it the right register?</p>
      }
    } @else {
      <p class="quiet">Choose a point in the grid.</p>
    }`,
  styles: `
    h2 {
      margin: 8px 0;
    }
    .actions,
    .problem,
    pe-table {
      margin-top: 10px;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class OrderHelp {
  protected readonly state = inject(MapState);
  private readonly editor = inject(Editor);
  readonly closed = output();

  protected readonly rawText = rawText;

  /** Begun anew for each point. */
  protected readonly form = computed(() => {
    this.state.focused();
    return new FormGroup({ expected: textControl('', numberValidator) });
  });
  private readonly expected = valueIn(this.form);
  protected readonly reading = signal(false);
  protected readonly problem = signal<string | null>(null);
  /** The point's registers and a few after them, where they are known. */
  protected readonly words = computed(() => {
    const point = this.state.focusedPoint();
    if (!point || point.type === 'bit') return null;
    const own = this.state.wordsOf(point);
    const read = this.state.read(point.table);
    const after: number[] = [];
    for (let offset = point.offset + (own?.length ?? 0); after.length + (own?.length ?? 0) < AROUND; offset++) {
      const word = read?.words.get(offset);
      if (word === undefined) break;
      after.push(word);
    }
    const words = [...(own ?? []), ...after];
    return words.length ? words : null;
  });
  private readonly value = computed(() => typedNumber(this.expected().expected));
  protected readonly isNumber = computed(() => !Number.isNaN(this.value()));
  protected readonly candidates = computed(() => {
    const value = this.value();
    const words = this.words();
    return words && this.isNumber() ? findOrder(words, value).slice(0, SHOWN) : [];
  });

  protected readonly idOf = ({ at, type, order, factor }: OrderCandidate): string => `${at} ${type} ${order} ${factor}`;
  protected readonly firstOf = (row: OrderCandidate): string => (row === this.candidates()[0] ? 'best' : '');
  protected readonly columns: readonly Column<OrderCandidate>[] = [
    { name: 'type', head: 'Type', text: ({ type }) => type },
    { name: 'order', head: 'Order', text: ({ order }) => order, kind: 'mono' },
    { name: 'scale', head: 'Scale', text: ({ factor }) => (factor === 1 ? '' : `× ${factor}`), kind: 'mono' },
    { name: 'at', head: 'At', text: ({ at }) => (at ? `+${at}` : ''), kind: 'mono number' },
    { name: 'value', head: 'Value', text: ({ value }) => String(Number(value.toPrecision(9))), kind: 'mono number' },
    { name: 'take', head: '' },
  ];

  constructor() {
    focusOnOpen();
  }

  protected address(point: Point): string {
    return addressOf(point, this.state.device());
  }

  protected read(point: Point): void {
    this.reading.set(true);
    this.problem.set(null);
    this.state.readOnce(point.table, point.offset, Math.min(AROUND, 65_536 - point.offset)).subscribe((problem) => {
      this.problem.set(problem);
      this.reading.set(false);
    });
  }

  protected takeFirst(): void {
    const first = this.candidates()[0];
    if (first) this.take(first);
  }

  /** Type, order, scale and, where it starts later, the address of the point become those of the reading. */
  protected take({ at, type, order, factor }: OrderCandidate): void {
    const point = this.state.focusedPoint();
    if (!point) return;
    const short = shortOrder(order);
    const after: Point = {
      ...point,
      type,
      order: short,
      offset: point.offset + at,
      length: null,
      encoding: null,
      scale: factor === 1 ? null : { factor, offset: 0 },
    };
    this.state.save(`Read ${point.name} as ${type} ${short}`, [after]).subscribe((refused) => {
      this.problem.set(refused);
      if (!refused) this.editor.say(`${point.name} is now ${type} ${short}${factor === 1 ? '' : ` × ${factor}`}. Ctrl+Z takes it back.`);
    });
  }
}
