import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output, signal } from '@angular/core';
import { bitsOfSignal, type CanSignal, layoutProblems } from '@plain-envoy/core/can';
import type { PointType } from '@plain-envoy/core/types';

type Order = CanSignal['order'];
/** Where a signal lies. */
export type Stretch = Pick<CanSignal, 'firstBit' | 'bits' | 'order'>;
/** A signal as the grid shows it. */
export interface ShownSignal extends Stretch {
  name: string;
}

interface Cell {
  bit: number;
  byte: number;
  /** Which signals it belongs to, by their places in the list. */
  of: number[];
  isMarked: boolean;
  isFirst: boolean;
  value: number | null;
  label: string;
}

const COLOURS = 6;

/** The bytes of a frame, or a block, as a grid of bits, the highest of each byte on the left: a stretch of it is marked with the mouse or by keys. */
@Component({
  selector: 'pe-bit-grid',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="grid"
      role="grid"
      [attr.aria-label]="'Bits of the ' + of() + ', ' + bytes() + ' bytes'"
      (mouseleave)="isDrawing = false"
      (mouseup)="isDrawing = false"
    >
      <div class="row head" role="row" aria-hidden="true">
        <span class="byte"></span>
        @for (bit of columns; track bit) {
          <span>{{ bit }}</span>
        }
      </div>
      @for (row of rows(); track $index) {
        <div class="row" role="row">
          <span class="byte" role="rowheader">byte {{ $index }}</span>
          @for (cell of row; track cell.bit) {
            <span
              role="gridcell"
              [class]="cell.of.length > 1 ? 'cell twice' : cell.of.length ? 'cell taken colour-' + (cell.of[0]! % colours) : 'cell'"
              [class.marked]="cell.isMarked"
              [class.first]="cell.isFirst"
              [class.moved]="moved().has(cell.bit)"
              [class.of-chosen]="chosen() !== null && cell.of.includes(chosen()!)"
              [attr.aria-label]="cell.label"
              [attr.aria-selected]="cell.isMarked"
              [attr.data-bit]="cell.bit"
              [tabindex]="cell.bit === at() ? 0 : -1"
              (mousedown)="begin(cell.bit, $event)"
              (mouseenter)="drawTo(cell.bit)"
              (focus)="at.set(cell.bit)"
              (keydown)="key($event, cell.bit)"
              >{{ cell.value ?? '·' }}</span
            >
          }
        </div>
      }
    </div>
  `,
  styleUrl: './bit-grid.scss',
})
export class BitGrid {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly bytes = input.required<number>();
  /** Of what they are. */
  readonly of = input('frame');
  readonly signals = input<readonly ShownSignal[]>([]);
  /** The order in which a stretch is drawn. */
  readonly order = input<Order>('little');
  /** What the frame holds just now; nothing where none came. */
  readonly data = input<Uint8Array | null>(null);
  /** Bits that were seen to move. */
  readonly moved = input<ReadonlySet<number>>(new Set());
  /** Which of the signals is looked at. */
  readonly chosen = input<number | null>(null);
  /** A stretch was marked; null where none is any more. */
  readonly marked = output<Stretch | null>();
  /** The mark shall become a signal. */
  readonly taken = output<Stretch>();

  protected readonly colours = COLOURS;
  protected readonly columns = [7, 6, 5, 4, 3, 2, 1, 0];
  /** The bit that has the keyboard. */
  protected readonly at = signal(7);
  private readonly from = signal<number | null>(null);
  private readonly to = signal<number | null>(null);
  protected isDrawing = false;

  private readonly mark = computed((): Stretch | null => {
    const [from, to] = [this.from(), this.to()];
    return from === null || to === null ? null : stretchOf(from, to, this.order());
  });

  protected readonly rows = computed((): Cell[][] => {
    const of = new Map<number, number[]>();
    this.signals().forEach((one, index) => {
      for (const bit of bitsOfSignal(one)) of.set(bit, [...(of.get(bit) ?? []), index]);
    });
    const firsts = new Set(this.signals().map(({ firstBit }) => firstBit));
    const mark = this.mark();
    const marked = new Set(mark ? bitsOfSignal(mark) : []);
    const data = this.data();
    return Array.from({ length: this.bytes() }, (_, byte) =>
      this.columns.map((column): Cell => {
        const bit = 8 * byte + column;
        const value = data && byte < data.length ? (data[byte]! >> column) & 1 : null;
        const owners = of.get(bit) ?? [];
        const names = owners.map((index) => this.signals()[index]!.name || 'a signal without a name');
        const label = `byte ${byte}, bit ${column}: ${names.join(' and ') || 'free'}${value === null ? '' : `, ${value}`}`;
        return { bit, byte, of: owners, isMarked: marked.has(bit), isFirst: firsts.has(bit), value, label };
      }),
    );
  });

  protected begin(bit: number, event: MouseEvent): void {
    this.isDrawing = true;
    if (!event.shiftKey || this.from() === null) this.from.set(bit);
    this.to.set(bit);
    this.tell();
  }

  protected drawTo(bit: number): void {
    if (!this.isDrawing) return;
    this.to.set(bit);
    this.tell();
  }

  protected key(event: KeyboardEvent, bit: number): void {
    const next = { ArrowLeft: bit + 1, ArrowRight: bit - 1, ArrowUp: bit - 8, ArrowDown: bit + 8 }[event.key];
    if (event.key === 'Enter') {
      const mark = this.mark() ?? stretchOf(bit, bit, this.order());
      this.taken.emit(mark);
      this.unmark();
    } else if (event.key === 'Escape' && this.mark()) this.unmark();
    else if (next !== undefined) {
      const to = stepped(bit, event.key, next);
      if (to < 0 || to >= 8 * this.bytes()) return event.preventDefault();
      if (event.shiftKey) {
        if (this.from() === null) this.from.set(bit);
        this.to.set(to);
        this.tell();
      } else if (this.from() !== null) this.unmark();
      this.at.set(to);
      queueMicrotask(() => this.host.nativeElement.querySelector<HTMLElement>(`[data-bit="${to}"]`)?.focus());
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private unmark(): void {
    this.from.set(null);
    this.to.set(null);
    this.tell();
  }

  private tell(): void {
    this.marked.emit(this.mark());
  }
}

/** To the left of the highest bit is nothing, nor to the right of the lowest: the next bit is in the row beside. */
function stepped(bit: number, key: string, next: number): number {
  if (key === 'ArrowLeft' && bit % 8 === 7) return bit - 15;
  if (key === 'ArrowRight' && bit % 8 === 0) return bit + 15;
  return next;
}

/** The signal between two bits: little counts upward from the lower one, big goes as one reads, from the one that comes first. */
export function stretchOf(a: number, b: number, order: Order): Stretch {
  if (order === 'little') return { firstBit: Math.min(a, b), bits: Math.abs(a - b) + 1, order };
  const place = (bit: number) => 8 * (bit >> 3) + 7 - (bit & 7);
  const [first, last] = place(a) <= place(b) ? [a, b] : [b, a];
  return { firstBit: first, bits: place(last) - place(first) + 1, order };
}

/** The narrowest type that holds so many bits. */
export function typeOfBits({ bits, signed }: Pick<CanSignal, 'bits' | 'signed'>): PointType {
  if (bits === 1) return 'bit';
  const width = bits <= 16 ? 16 : bits <= 32 ? 32 : 64;
  return `${signed ? 'int' : 'uint'}${width}`;
}

/** What values of one frame or block share, or where they reach past its end. */
export function gridProblems(signals: readonly ShownSignal[], bytes: number, of?: string): string[] {
  return layoutProblems(
    signals.map((one) => ({ ...one, signed: false, float: false, factor: 1, offset: 0 })),
    bytes,
    of,
  );
}
