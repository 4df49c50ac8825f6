import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  model,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { CdkScrollable, ScrollingModule } from '@angular/cdk/scrolling';
import { type Table, tableNames, tables } from '@plain-envoy/core/address';
import { type Strip, stripOf } from '@plain-envoy/core/map';
import { pointWidth } from '@plain-envoy/core/model';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { MapState } from './map-state';
import { layoutStrip, offsetAt, xOf } from './strip-layout';
import { StripChart } from './strip-chart';
import { wordsOf } from './strip-words';
import { MatButtonToggleModule } from '@angular/material/button-toggle';

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
  imports: [MatButtonToggleModule, ScrollingModule, StripChart],
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
        <div class="whole" [style.width.px]="layout()!.width + 2">
          <div
            class="chart"
            tabindex="0"
            role="application"
            [attr.aria-label]="'Address strip of ' + names[table()].many + ': arrow keys walk, Shift marks a span, Enter goes to the point'"
            [attr.aria-describedby]="'strip-words'"
            (pointermove)="hover($event)"
            (pointerleave)="hovered.set(null)"
            (pointerdown)="press($event)"
            (dblclick)="go()"
            (keydown)="key($event)"
          >
            <pe-strip-chart
              [layout]="layout()!"
              [left]="left()"
              [width]="seen()"
              [requests]="requests()"
              [read]="state.read(table())"
              [focused]="state.focused()"
              [cursor]="cursor()"
              [mark]="mark()"
            />
          </div>
        </div>
      </div>
      <p class="words" id="strip-words" aria-live="polite">{{ words() }}</p>
    }`,
  styleUrl: './strip.scss',
})
export class AddressStrip {
  protected readonly state = inject(MapState);
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly scroll = viewChild<ElementRef<HTMLElement>>('scroll');
  private readonly scroller = viewChild(CdkScrollable);

  readonly table = model.required<Table>();
  /** The register under the cursor, and the other end of a marked span. */
  readonly cursor = signal<number | null>(null);
  protected readonly mark = signal<number | null>(null);
  protected readonly hovered = signal<number | null>(null);
  readonly span = output<Span>();
  readonly chosen = output<string>();

  protected readonly names = tableNames;
  protected readonly strips = computed(() => {
    const forbidden = this.state.device()?.forbidden ?? [];
    return tables.flatMap((table): Strip | Strip[] => stripOf(table, this.state.points(), forbidden) ?? []);
  });
  /** What the plan fetches from or sets in the table shown. */
  protected readonly requests = computed(() =>
    this.plan.plan().requests.filter(({ deviceId, table }) => deviceId === this.state.deviceId() && table === this.table()),
  );
  protected readonly strip = computed(() => this.strips().find(({ table }) => table === this.table()) ?? null);
  private readonly room = signal(1100);
  protected readonly left = signal(0);
  protected readonly layout = computed(() => (this.strip() ? layoutStrip(this.strip()!, this.room()) : null));
  /** How much of it can be seen. */
  protected readonly seen = computed(() => Math.min(this.room(), Math.max((this.layout()?.width ?? 0) + 2, 10)));
  protected readonly words = computed(() => {
    const [strip, device, hovered] = [this.strip(), this.state.device(), this.hovered()];
    if (!strip || !device) return '';
    const [offset, mark] = hovered === null ? [this.cursor(), this.mark()] : [hovered, null];
    const read = this.state.read(strip.table);
    return wordsOf({ strip, device, notation: this.state.notation(), offset, mark, requests: this.requests(), read });
  });

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
    inject(DestroyRef).onDestroy(() => observer.disconnect());
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
}
