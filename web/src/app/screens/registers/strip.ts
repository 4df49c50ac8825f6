import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  model,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { CdkScrollable, ScrollingModule } from '@angular/cdk/scrolling';
import { entryNumber, formatAddress, isBitTable, type Table, tableNames, tables } from '@plain-envoy/core/address';
import { functionOf } from '@plain-envoy/core/frame';
import { type Strip, stripOf } from '@plain-envoy/core/map';
import { pointWidth } from '@plain-envoy/core/model';
import { paintOf } from '../../parts/paint';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { MapState } from './map-state';
import { layoutStrip, offsetAt, xOf } from './strip-layout';
import { viewsOf } from './words';
import { MatButtonToggleModule } from '@angular/material/button-toggle';

const HEIGHT = 44;
const CELLS = { top: 4, height: 20 };
const REQUESTS_AT = 30;

/** A stretch of a table that a person has marked; both ends count. */
export interface Span {
  table: Table;
  first: number;
  last: number;
}

/** A table of a device in register order: points, holes, overlaps, what requests fetch, and each register in words. */
@Component({
  selector: 'pe-address-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonToggleModule, ScrollingModule],
  template: `<div class="tabs">
      <mat-button-toggle-group hideSingleSelectionIndicator aria-label="Table" [value]="table()" (change)="pick($event.value)">
        @for (row of strips(); track row.table) {
          <mat-button-toggle [value]="row.table">{{ names[row.table].many }}</mat-button-toggle>
        }
      </mat-button-toggle-group>
      <ng-content />
    </div>
    @if (strip()) {
      <div class="scroll" #scroll cdkScrollable>
        <div class="whole" #whole>
          <canvas
            #canvas
            tabindex="0"
            role="application"
            [attr.aria-label]="'Address strip of ' + names[table()].many + ': arrow keys walk, Shift marks a span, Enter goes to the point'"
            [attr.aria-describedby]="'strip-words'"
            (pointermove)="hover($event)"
            (pointerleave)="hovered.set(null)"
            (pointerdown)="press($event)"
            (dblclick)="go()"
            (keydown)="key($event)"
          ></canvas>
        </div>
      </div>
      <p class="words" id="strip-words" aria-live="polite">{{ words() }}</p>
    }`,
  styleUrl: './strip.scss',
})
export class AddressStrip {
  private readonly state = inject(MapState);
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly scroll = viewChild<ElementRef<HTMLElement>>('scroll');
  private readonly scroller = viewChild(CdkScrollable);
  private readonly whole = viewChild<ElementRef<HTMLElement>>('whole');

  readonly table = model.required<Table>();
  /** The register under the cursor, and the other end of a marked span. */
  readonly cursor = signal<number | null>(null);
  private readonly mark = signal<number | null>(null);
  protected readonly hovered = signal<number | null>(null);
  readonly span = output<Span>();
  readonly chosen = output<string>();

  protected readonly names = tableNames;
  protected readonly strips = computed(() => {
    const forbidden = this.state.device()?.forbidden ?? [];
    return tables.flatMap((table): Strip | Strip[] => stripOf(table, this.state.points(), forbidden) ?? []);
  });
  /** What the plan fetches from or sets in the table shown. */
  private readonly requests = computed(() =>
    this.plan.plan().requests.filter(({ deviceId, table }) => deviceId === this.state.deviceId() && table === this.table()),
  );
  protected readonly strip = computed(() => this.strips().find(({ table }) => table === this.table()) ?? null);
  private readonly room = signal(1100);
  private readonly left = signal(0);
  private readonly layout = computed(() => (this.strip() ? layoutStrip(this.strip()!, this.room()) : null));
  protected readonly words = computed(() => this.describe());

  constructor() {
    effect(() => {
      const strips = this.strips();
      if (strips.length && !this.strip()) this.table.set(strips[0]!.table);
    });
    effect(() => {
      const point = this.state.focusedPoint();
      if (point && point.deviceId === this.state.deviceId()) {
        this.table.set(point.table);
        this.cursor.set(point.offset);
        this.mark.set(null);
      }
    });
    effect(() => this.draw());
    const observer = new ResizeObserver(() => {
      this.room.set(this.scroll()?.nativeElement.clientWidth ?? 1100);
    });
    effect(() => {
      const scroll = this.scroll()?.nativeElement;
      observer.disconnect();
      if (scroll) observer.observe(scroll);
    });
    effect((onCleanup) => {
      const listening = this.scroller()
        ?.elementScrolled()
        .subscribe(() => this.left.set(this.scroll()?.nativeElement.scrollLeft ?? 0));
      onCleanup(() => listening?.unsubscribe());
    });
    const scheme = matchMedia('(prefers-color-scheme: dark)');
    const redraw = () => this.draw();
    scheme.addEventListener('change', redraw);
    const themes = new MutationObserver(redraw);
    themes.observe(document.documentElement, { attributes: true });
    inject(DestroyRef).onDestroy(() => {
      observer.disconnect();
      themes.disconnect();
      scheme.removeEventListener('change', redraw);
    });
  }

  protected pick(table: Table): void {
    this.table.set(table);
    this.cursor.set(this.strip()?.first ?? null);
    this.mark.set(null);
  }

  protected hover(event: PointerEvent): void {
    const at = this.at(event);
    this.hovered.set(at);
    if (event.buttons && at !== null) this.moveTo(at, true);
  }

  protected press(event: PointerEvent): void {
    const at = this.at(event);
    if (at !== null) this.moveTo(at, event.shiftKey);
  }

  protected go(): void {
    const at = this.cursor();
    const point = this.state
      .points()
      .find((row) => row.table === this.table() && at !== null && at >= row.offset && at < row.offset + pointWidth(row));
    if (point) this.chosen.emit(point.id);
  }

  protected key(event: KeyboardEvent): void {
    const strip = this.strip();
    if (!strip) return;
    const at = this.cursor() ?? strip.first;
    const jumps: Record<string, number> = {
      ArrowRight: at + 1,
      ArrowLeft: at - 1,
      Home: strip.first,
      End: strip.last,
      PageDown: at + 16,
      PageUp: at - 16,
    };
    const to = jumps[event.key];
    if (to !== undefined) {
      event.preventDefault();
      this.hovered.set(null);
      this.moveTo(Math.max(strip.first, Math.min(strip.last, to)), event.shiftKey);
    } else if (event.key === 'Enter') {
      this.go();
    }
  }

  private moveTo(offset: number, extend: boolean): void {
    if (!extend) this.mark.set(null);
    else if (this.mark() === null) this.mark.set(this.cursor());
    this.cursor.set(offset);
    this.span.emit({ table: this.table(), first: Math.min(offset, this.mark() ?? offset), last: Math.max(offset, this.mark() ?? offset) });
    const place = xOf(this.layout()!, offset);
    const scroll = this.scroll()?.nativeElement;
    if (place && scroll && (place.x < scroll.scrollLeft || place.x > scroll.scrollLeft + scroll.clientWidth - 20))
      scroll.scrollLeft = place.x - 100;
  }

  private at(event: PointerEvent): number | null {
    return this.layout() && offsetAt(this.layout()!, event.offsetX + this.left());
  }

  /** The register in every notation, what lies there, what fetches it and what was read; or the span that is marked. */
  private describe(): string {
    const strip = this.strip();
    const device = this.state.device();
    const offset = this.hovered() ?? this.cursor();
    if (!strip || !device) return '';
    if (offset === null)
      return `${strip.last - strip.first + 1} from offset ${strip.first} to ${strip.last}. Point at a register, or walk with the arrow keys.`;
    const mark = this.mark();
    const place = (at: number) => formatAddress({ table: strip.table, offset: at }, this.state.notation(), device.areas);
    const typed = (at: number) => entryNumber(at, device.entry);
    if (mark !== null && this.hovered() === null && mark !== offset) {
      const [first, last] = [Math.min(mark, offset), Math.max(mark, offset)];
      const count = last - first + 1;
      return `${place(first)} to ${place(last)}: ${count} ${isBitTable(strip.table) ? 'bits' : 'registers'} (offset ${first} to ${last}). Into its package: first ${typed(first)}, last ${typed(last)}, count ${count}.`;
    }
    const all = (['pdu', 'number', 'reference5', 'reference6', 'hex', ...(device.areas.length ? (['area'] as const) : [])] as const).map(
      (notation) => formatAddress({ table: strip.table, offset }, notation, device.areas),
    );
    const stretch = strip.stretches.find((row) => offset >= row.offset && offset < row.offset + row.count);
    const points = stretch?.points.filter((point) => offset >= point.offset && offset < point.offset + pointWidth(point)) ?? [];
    const here = points.map((point) =>
      pointWidth(point) > 1
        ? `${point.name} (${offset - point.offset + 1} of ${pointWidth(point)})`
        : point.bit === null
          ? point.name
          : `bit ${point.bit} ${point.name}`,
    );
    const what = here.length
      ? here.join(stretch?.kind === 'overlap' ? ' over ' : ', ')
      : stretch?.kind === 'forbidden'
        ? 'the device refuses this'
        : 'a hole';
    const fetching = this.requests().filter((row) => offset >= row.offset && offset < row.offset + row.count);
    const fetched = fetching.map(
      (row) => `${functionOf(row.functionCode)?.name} ${row.offset}…${row.offset + row.count - 1} every ${row.periodMs} ms`,
    );
    const read = this.state.read(strip.table);
    const word = read?.words.get(offset);
    const views = word === undefined ? null : viewsOf(word, undefined);
    const held = read?.refused.has(offset)
      ? `refused: ${read.refused.get(offset)}`
      : views
        ? `read: ${isBitTable(strip.table) ? views.decimal : `${views.decimal} = ${views.signed} = ${views.hex} hex`}`
        : '';
    return (
      [`Offset ${all[0]} · number ${all[1]} · ${[...new Set(all.slice(2))].join(' · ')} · type ${typed(offset)}`, what, ...fetched, held]
        .filter(Boolean)
        .join('. ') + '.'
    );
  }

  private draw(): void {
    const canvas = this.canvas()?.nativeElement;
    const strip = this.strip();
    const layout = this.layout();
    if (!canvas || !strip || !layout) return;
    const ratio = devicePixelRatio || 1;
    const width = Math.min(this.room(), Math.max(layout.width + 2, 10));
    const left = this.left();
    this.whole()!.nativeElement.style.width = `${layout.width + 2}px`;
    canvas.style.width = `${width}px`;
    canvas.width = width * ratio;
    canvas.height = HEIGHT * ratio;
    const colour = (name: string) => paintOf(`var(${name})`, this.host);
    const [ink, paper, faint, accent, bad, chosen] = [
      '--mat-sys-on-surface',
      '--mat-sys-surface-container-lowest',
      '--mat-sys-outline-variant',
      '--pe-carried',
      '--mat-sys-error',
      '--mat-sys-primary-container',
    ].map(colour) as [string, string, string, string, string, string];
    const pen = canvas.getContext('2d')!;
    pen.setTransform(ratio, 0, 0, ratio, -left * ratio, 0);
    pen.clearRect(left, 0, width, HEIGHT);
    pen.lineWidth = 1;
    const focused = this.state.focused();
    const read = this.state.read(strip.table);
    for (const stretch of layout.placed) {
      if (stretch.x > left + width || stretch.x + stretch.width < left) continue;
      const { x, kind } = stretch;
      if (kind === 'hole' || kind === 'forbidden') {
        pen.strokeStyle = kind === 'hole' ? faint : bad;
        pen.setLineDash(kind === 'hole' ? [3, 3] : [1, 2]);
        pen.beginPath();
        pen.moveTo(x, CELLS.top + CELLS.height / 2);
        pen.lineTo(x + stretch.width, CELLS.top + CELLS.height / 2);
        pen.stroke();
        pen.setLineDash([]);
        if (stretch.width > 18) {
          pen.fillStyle = kind === 'hole' ? ink : bad;
          pen.font = '10px sans-serif';
          pen.textAlign = 'center';
          pen.fillText(String(stretch.count), x + stretch.width / 2, CELLS.top + 8);
        }
        continue;
      }
      const [point] = stretch.points;
      const writable = point!.access !== 'read';
      pen.fillStyle = kind === 'overlap' ? bad : stretch.points.some(({ id }) => id === focused) ? accent : writable ? ink : paper;
      pen.strokeStyle = kind === 'overlap' ? bad : ink;
      pen.globalAlpha = writable && kind !== 'overlap' ? 0.8 : 1;
      pen.fillRect(x + 0.5, CELLS.top + 0.5, stretch.width - 1.5, CELLS.height - 1);
      pen.globalAlpha = 1;
      pen.strokeRect(x + 0.5, CELLS.top + 0.5, stretch.width - 1.5, CELLS.height - 1);
      for (let index = 0; read && index < stretch.count; index++) {
        const offset = stretch.offset + index;
        if (!read.words.has(offset) && !read.refused.has(offset)) continue;
        pen.fillStyle = read.refused.has(offset) ? bad : accent;
        pen.fillRect(x + index * stretch.each + 1, CELLS.top + CELLS.height + 1, Math.max(2, stretch.each - 2), 2);
      }
    }
    this.drawRequests(pen, accent);
    this.drawCursor(pen, accent, chosen);
  }

  private drawRequests(pen: CanvasRenderingContext2D, accent: string): void {
    const layout = this.layout()!;
    for (const { kind, offset, count } of this.requests()) {
      const from = xOf(layout, offset);
      const to = xOf(layout, offset + count - 1);
      if (!from || !to) continue;
      const y = REQUESTS_AT + (kind === 'write' ? 7 : 1);
      pen.strokeStyle = accent;
      pen.lineWidth = 1.5;
      pen.setLineDash(kind === 'watch' ? [2, 2] : []);
      pen.beginPath();
      pen.moveTo(from.x + 1, y);
      pen.lineTo(from.x + 1, y + 4);
      pen.lineTo(to.x + to.width - 2, y + 4);
      pen.lineTo(to.x + to.width - 2, y);
      pen.stroke();
      pen.setLineDash([]);
    }
  }

  private drawCursor(pen: CanvasRenderingContext2D, accent: string, chosen: string): void {
    const layout = this.layout()!;
    const [cursor, mark] = [this.cursor(), this.mark()];
    if (cursor === null) return;
    const from = xOf(layout, Math.min(cursor, mark ?? cursor));
    const to = xOf(layout, Math.max(cursor, mark ?? cursor));
    if (!from || !to) return;
    if (mark !== null) {
      pen.fillStyle = chosen;
      pen.globalAlpha = 0.5;
      pen.fillRect(from.x, 0, to.x + to.width - from.x, HEIGHT);
      pen.globalAlpha = 1;
    }
    pen.strokeStyle = accent;
    pen.lineWidth = 2;
    pen.strokeRect(from.x, CELLS.top - 2, to.x + to.width - from.x, CELLS.height + 4);
  }
}
