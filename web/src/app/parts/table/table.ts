import { CDK_VIRTUAL_SCROLL_VIEWPORT, CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { NgTemplateOutlet } from '@angular/common';
import {
  afterEveryRender,
  type AfterRenderRef,
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  contentChildren,
  ElementRef,
  inject,
  Injector,
  input,
  model,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatSortModule, type Sort } from '@angular/material/sort';
import { MatTableModule } from '@angular/material/table';
import { EMPTY, switchMap } from 'rxjs';
import { arrowStep } from '../keys';
import { CellTemplate, type Column } from './column';

/** Every row of a long table is this high. */
const ROW_PX = 28;
/** Up to so many rows are drawn whole, so that scrolling finds their values there. */
const WHOLE_ROWS = 150;

/**
 * A table of things: its columns, said once each, and its rows. One that scrolls fills the height it is given, and of many rows draws
 * only what can be seen. Where rows can be chosen they are walked with the arrow keys, Home and End; where several can, Shift and Ctrl choose them
 * as in any list.
 */
@Component({
  selector: 'pe-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatSortModule, MatTableModule, NgTemplateOutlet, ScrollingModule],
  templateUrl: './table.html',
  styleUrl: './table.scss',
  host: { '[class.fills]': 'scrolls()' },
})
export class Table<Row> {
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly injector = inject(Injector);
  readonly label = input.required<string>();
  readonly columns = input.required<readonly Column<Row>[]>();
  readonly rows = input<readonly Row[]>([]);
  readonly idOf = input.required<(row: Row) => string>();
  readonly nothing = input('');
  readonly scrolls = input(false, { transform: booleanAttribute });
  readonly multiple = input(false, { transform: booleanAttribute });
  readonly rowClass = input<(row: Row) => string>(() => '');
  /** The ids of the rows that are chosen; null where rows are only read. */
  readonly chosen = model<ReadonlySet<string> | null>(null);
  /** A row was clicked, or Enter was pressed on it. */
  readonly choose = output<Row>();
  /** What the keyboard comes to is chosen. */
  readonly follows = input(false, { transform: booleanAttribute });
  /** Rows can be dragged away: of several that are chosen all, else the one alone. */
  readonly lifts = input(false, { transform: booleanAttribute });
  /** Any other key on a row. */
  readonly rowKey = output<{ event: KeyboardEvent; row: Row }>();

  protected readonly rowPx = ROW_PX;
  protected readonly order = signal<Sort>({ active: '', direction: '' });
  private readonly templates = contentChildren(CellTemplate);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly cells = computed(() => new Map(this.templates().map(({ name, template }) => [name(), template])));
  protected readonly long = computed(() => this.scrolls() && this.rows().length > WHOLE_ROWS);
  protected readonly names = computed(() => this.columns().map(({ name }) => name));
  protected readonly isWalked = computed(() => this.chosen() !== null);
  /** The row that the keyboard was on last. */
  private readonly at = signal<string | null>(null);
  private anchor: string | null = null;
  private waiting: AfterRenderRef | null = null;

  protected readonly sorted = computed((): readonly Row[] => {
    const { active, direction } = this.order();
    const by = direction ? this.columns().find(({ name }) => name === active)?.by : undefined;
    if (!by) return this.rows();
    const sign = direction === 'asc' ? 1 : -1;
    return [...this.rows()].sort((a, b) => sign * compare(by(a), by(b)));
  });
  private readonly indexes = computed(() => new Map(this.sorted().map((row, index) => [this.idOf()(row), index])));
  private readonly rendered = toSignal(toObservable(this.viewport).pipe(switchMap((viewport) => viewport?.renderedRangeStream ?? EMPTY)), {
    initialValue: { start: 0, end: 0 },
  });
  private readonly range = computed(() => (this.long() ? this.rendered() : { start: 0, end: WHOLE_ROWS }));
  /** The rows that are drawn. */
  readonly inView = computed(() => this.sorted().slice(this.range().start, this.range().end));
  /** The row that Tab comes to. */
  protected readonly tabbed = computed(() => {
    const known = [this.at(), ...(this.chosen() ?? [])].flatMap((id) => this.indexes().get(id ?? '') ?? []);
    const { start, end } = this.range();
    return known.find((index) => index >= start && index < end) ?? start;
  });

  protected readonly track = (_: number, row: Row): string => this.idOf()(row);

  /** The table inside asks for what scrolls it; it is made from a template that stands outside of that. */
  protected within(viewport: CdkVirtualScrollViewport): Injector {
    return (this.scrolled ??= Injector.create({
      parent: this.injector,
      providers: [{ provide: CDK_VIRTUAL_SCROLL_VIEWPORT, useValue: viewport }],
    }));
  }
  private scrolled: Injector | null = null;

  protected indexOf(row: Row): number {
    return this.indexes().get(this.idOf()(row)) ?? -1;
  }

  protected isChosen(row: Row): boolean {
    return this.chosen()?.has(this.idOf()(row)) ?? false;
  }

  /** Brings a row into view and gives it the keyboard. */
  goTo(index: number): void {
    const row = this.sorted()[index];
    if (!row) return;
    this.at.set(this.idOf()(row));
    const drawn = () => this.element.querySelector<HTMLElement>(`tr[data-row="${index}"]`);
    this.waiting?.destroy();
    const there = drawn();
    if (there) return there.focus();
    this.viewport()?.scrollToIndex(Math.max(0, index - 3));
    const waiting = (this.waiting = afterEveryRender(
      () => {
        const row = drawn();
        if (!row) return;
        waiting.destroy();
        row.focus();
      },
      { injector: this.injector },
    ));
  }

  protected press(event: MouseEvent, row: Row): void {
    if (!this.isWalked()) return;
    this.at.set(this.idOf()(row));
    if (this.multiple()) this.select(row, event.shiftKey ? 'range' : event.ctrlKey || event.metaKey ? 'toggle' : 'only');
    this.choose.emit(row);
  }

  protected lift(row: Row): void {
    if (!this.isChosen(row)) this.select(row, 'only');
  }

  protected key(event: KeyboardEvent, row: Row): void {
    // What stands in a cell has keys of its own.
    if (event.target !== event.currentTarget || !this.isWalked()) return;
    const index = this.indexOf(row);
    const last = this.sorted().length - 1;
    const to = event.key === 'Home' ? 0 : event.key === 'End' ? last : Math.min(last, Math.max(0, index + arrowStep(event)));
    if (to !== index || arrowStep(event)) {
      if (event.shiftKey && this.multiple()) this.select(this.sorted()[to]!, 'range');
      this.goTo(to);
      if (this.follows() && to !== index) this.choose.emit(this.sorted()[to]!);
    } else if (event.key === 'Enter') {
      this.choose.emit(row);
    } else if (this.multiple() && event.key === ' ') {
      this.select(row, 'toggle');
    } else if (this.multiple() && event.key === 'a' && event.ctrlKey) {
      this.chosen.set(new Set(this.indexes().keys()));
    } else {
      return this.rowKey.emit({ event, row });
    }
    event.preventDefault();
  }

  /** Chooses a row: alone, with or without it, or all from where one was chosen last. */
  select(row: Row, how: 'only' | 'toggle' | 'range'): void {
    const id = this.idOf()(row);
    if (how !== 'range') this.anchor = id;
    const [one, other] = [this.indexes().get(this.anchor ?? id) ?? 0, this.indexOf(row)];
    const next = new Set(how === 'toggle' ? this.chosen() : []);
    if (how === 'range') {
      for (const each of this.sorted().slice(Math.min(one, other), Math.max(one, other) + 1)) next.add(this.idOf()(each));
    } else if (!next.delete(id)) {
      next.add(id);
    }
    this.chosen.set(next);
  }
}

function compare(a: number | string, b: number | string): number {
  return typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b), 'en', { numeric: true });
}
