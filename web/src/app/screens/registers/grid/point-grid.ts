import { farWords } from '@plain-envoy/core/mapping';
import { isFar } from '@plain-envoy/core/place';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  CSP_NONCE,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  output,
  signal,
  untracked,
} from '@angular/core';
import { type Point, rawText, valueText } from '@plain-envoy/core/model';
import { outputFromObservable, takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { AgGridAngular } from 'ag-grid-angular';
import type { CellFocusedEvent, CellKeyDownEvent, ColDef, GridApi, GridReadyEvent } from 'ag-grid-community';
import { Editor } from '../../../data/editor';
import { Live } from '../../../data/live';
import { PlanStore } from '../../../data/plan';
import { ProjectStore } from '../../../data/project';
import { atEdge } from '../../../data/state';
import { ageText } from '../../../parts/format';
import { worstQuality } from '../../../parts/quality';
import { MapState } from '../map-state';
import { pastedLines, quoted } from './clipboard';
import { type CellSource, columnsOf, liveColumns } from './columns';
import { type Ambiguous, GridEdits } from './edits';
import { registerGridModules } from './modules';
import { paperTheme } from './theme';
import { type CellField, cellFields, cellText } from '@plain-envoy/core/fields';

registerGridModules();

const SETTLE_MS = 60;

/** The register map of a device as a grid whose cells are edited in place, by one or many rows. */
@Component({
  selector: 'pe-point-grid',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AgGridAngular],
  providers: [GridEdits],
  template: `<ag-grid-angular
    class="sheet"
    [theme]="theme"
    [styleNonce]="nonce"
    [columnDefs]="columns"
    [defaultColDef]="everyColumn"
    [rowSelection]="selection"
    [getRowId]="rowId"
    [isExternalFilterPresent]="isFiltered"
    [doesExternalFilterPass]="passes"
    [ensureDomOrder]="true"
    [suppressColumnVirtualisation]="true"
    [rowBuffer]="3"
    [animateRows]="false"
    [rowHeight]="27"
    [headerHeight]="30"
    [stopEditingWhenCellsLoseFocus]="true"
    [suppressCutToClipboard]="true"
    (gridReady)="ready($event)"
    (cellFocused)="focusedCell($event)"
    (cellKeyDown)="key($any($event))"
    (viewportChanged)="watchVisible()"
    (modelUpdated)="watchVisible()"
  />`,
  styleUrl: './point-grid.scss',
  host: { '(copy)': 'copy($event)', '(paste)': 'paste($event)' },
})
export class PointGrid {
  private readonly state = inject(MapState);
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly live = atEdge(inject(Live), 'now');
  private readonly plan = atEdge(inject(PlanStore), 'doubts');
  private readonly editor = inject(Editor);
  private readonly edits = inject(GridEdits);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private api: GridApi<Point> | null = null;
  private shownPoints: readonly Point[] = [];
  private anchor: number | null = null;
  private settling: ReturnType<typeof setTimeout> | undefined;

  readonly problem = outputFromObservable(this.edits.problem$);
  readonly ambiguous = outputFromObservable<Ambiguous | null>(this.edits.ambiguous$);
  /** Text with several columns, which wants to be looked at before it is taken. */
  readonly offered = output<string>();
  readonly add = output();
  readonly remove = output<Point[]>();
  readonly open = output<Point>();

  readonly filter = signal('');
  protected readonly nonce = inject(CSP_NONCE, { optional: true }) ?? undefined;
  protected readonly theme = paperTheme;
  protected readonly selection = { mode: 'multiRow', checkboxes: false, headerCheckbox: false, enableClickSelection: true } as const;
  protected readonly everyColumn: ColDef<Point> = {
    resizable: true,
    sortable: true,
    minWidth: 44,
    // These keys are ours; the grid would clear the cell, or walk on by itself.
    suppressKeyboardEvent: ({ event, editing }) =>
      !editing && (['Delete', 'Backspace', ' '].includes(event.key) || (event.shiftKey && event.key.startsWith('Arrow'))),
  };
  /** What a point is found by, in small letters; made once for each point and notation. */
  private readonly searched = computed(() => {
    this.state.context();
    return new WeakMap<Point, string>();
  });
  protected readonly isFiltered = () => this.wanted !== '';
  protected readonly passes = ({ data }: { data?: Point }) => !!data && this.searchText(data).includes(this.wanted);
  private wanted = '';
  private readonly uses = computed(() => {
    const counts = new Map<string, number>();
    for (const { sourceId, destinationId } of this.project.document()?.routes ?? []) {
      for (const id of [sourceId, destinationId]) counts.set(id, (counts.get(id) ?? 0) + 1);
    }
    return counts;
  });
  protected readonly columns = columnsOf(this.source());

  constructor() {
    this.edits.settled$.pipe(takeUntilDestroyed()).subscribe((rows) => this.refresh(rows));
    effect(() => this.show(this.state.points()));
    effect(() => {
      this.wanted = this.filter().trim().toLowerCase();
      this.api?.onFilterChanged();
    });
    effect(() => {
      this.state.context();
      this.api?.refreshCells({ columns: ['address'], force: true });
    });
    effect(() => {
      this.live.now();
      this.state.readings();
      this.plan.doubts();
      this.state.read('holding');
      untracked(() => this.api?.refreshCells({ columns: [...liveColumns] }));
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.settling);
      this.state.inView.set([]);
    });
  }

  private searchText(point: Point): string {
    const known = this.searched().get(point);
    if (known !== undefined) return known;
    const context = this.state.context();
    const text = (['name', 'address', 'table', 'type', 'unit', 'note'] as const)
      .map((field) => cellText(point, field, context))
      .join(' ')
      .toLowerCase();
    this.searched().set(point, text);
    return text;
  }

  protected rowId({ data }: { data: Point }): string {
    return data.id;
  }

  protected ready({ api }: GridReadyEvent<Point>): void {
    this.api = api;
    this.shownPoints = [];
    this.show(this.state.points());
    const wanted = this.state.focused();
    if (wanted) this.goTo(wanted, false);
  }

  /** Puts the cursor on a point and brings it into view. */
  goTo(pointId: string, takeFocus = true, column: CellField = 'name'): void {
    const node = this.api?.getRowNode(pointId);
    if (!node || node.rowIndex === null) return;
    this.api!.ensureNodeVisible(node, 'middle');
    if (takeFocus) this.api!.setFocusedCell(node.rowIndex, column);
    else this.choose(node.rowIndex, node.rowIndex);
  }

  setColumnShown(id: string, shown: boolean): void {
    this.api?.setColumnsVisible([id], shown);
  }

  /** Takes another reading of an address that was typed. */
  place(point: Point, changed: Point): void {
    this.edits.save(`Change the address of ${point.name}`, [changed]);
  }

  /** The value of the first selected row down all others. */
  fillDown(): void {
    this.edits.fillDown(this.selectedInOrder(), this.focusedField());
  }

  private source(): CellSource {
    return {
      text: (point, field) => this.edits.textOf(point, field),
      isWrong: (point, field) => this.edits.problemOf(point, field) !== null,
      write: (point, field, text) => this.edits.write([point], field, text),
      raw: (point) => rawText(this.state.wordsOf(point), point),
      value: (point) => valueText(this.state.wordsOf(point), point),
      quality: (point) => {
        const reading = this.state.readings().get(point.id);
        const doubt = this.plan.doubts().get(point.id);
        return reading ? (worstQuality([reading], doubt) ?? '') : this.state.readWords(point) ? 'read' : '';
      },
      age: (point) => ageText(this.state.readings().get(point.id)?.atMs, this.live.now()),
      routes: (point) => this.uses().get(point.id) ?? 0,
      lies: ({ place }) => (isFar(place) ? farWords(this.project.document()!, place) : ''),
    };
  }

  private refresh(rows: readonly Point[]): void {
    const nodes = rows.flatMap(({ id }) => this.api?.getRowNode(id) ?? []);
    this.api?.refreshCells({ rowNodes: nodes, force: true });
  }

  /** Shows the points; where only some have changed, those alone are drawn anew. */
  private show(points: readonly Point[]): void {
    const api = this.api;
    if (!api) return;
    const before = this.shownPoints;
    this.shownPoints = points;
    const same = before.length === points.length && before.every((point, index) => point.id === points[index]!.id);
    if (!same) {
      // What is searched is made ready while nobody waits for it.
      requestIdleCallback(() => points.forEach((point) => this.searchText(point)));
      return api.setGridOption('rowData', [...points]);
    }
    const update = points.filter((point, index) => point !== before[index]);
    if (update.length === 0) return;
    // Where no order and no filter depends on them, rows are replaced in place; else all rows are gone through again.
    const isPlain = !api.isAnyFilterPresent() && api.getColumnState().every(({ sort }) => !sort);
    if (isPlain) for (const point of update) api.getRowNode(point.id)?.setData(point);
    else api.applyTransaction({ update });
  }

  /** Asks for the values of what is in view, once it has stayed there for a moment. */
  protected watchVisible(): void {
    clearTimeout(this.settling);
    this.settling = setTimeout(() => {
      const points = this.api?.getRenderedNodes().flatMap(({ data }) => data?.id ?? []) ?? [];
      this.state.inView.set(points);
    }, SETTLE_MS);
  }

  protected focusedCell({ rowIndex }: CellFocusedEvent<Point>): void {
    const node = rowIndex === null ? undefined : this.api?.getDisplayedRowAtIndex(rowIndex);
    if (!node?.data) return;
    this.state.focused.set(node.data.id);
    const field = this.focusedField();
    const problem = field && this.edits.problemOf(node.data, field);
    if (problem) this.edits.problem$.next(`${node.data.name}, ${field}: ${problem}`);
    if (this.anchor === null) this.choose(rowIndex!, rowIndex!);
  }

  protected key({ event, rowIndex, data, api }: CellKeyDownEvent<Point>): void {
    const pressed = event as KeyboardEvent;
    if (!data || rowIndex === null) return;
    const editing = api.getEditingCells().length > 0;
    if (editing) {
      if (pressed.key === 'Enter' && pressed.ctrlKey) this.writeAll(pressed);
      return;
    }
    if (pressed.shiftKey && (pressed.key === 'ArrowDown' || pressed.key === 'ArrowUp')) return this.extend(rowIndex, pressed);
    if (pressed.key.startsWith('Arrow')) this.anchor = null;
    if (pressed.ctrlKey && pressed.key === 'd') {
      pressed.preventDefault();
      this.fillDown();
    } else if (pressed.ctrlKey && pressed.key === 'a') {
      pressed.preventDefault();
      api.selectAll('filtered');
    } else if (pressed.key === 'Delete') {
      const selected = this.selectedInOrder();
      this.remove.emit(selected.length ? selected : [data]);
    } else if (pressed.key === 'Insert') {
      this.add.emit();
    } else if (pressed.key === ' ') {
      pressed.preventDefault();
      this.open.emit(data);
    }
  }

  /** What stands in the editor goes into the column of every selected row. */
  private writeAll(event: KeyboardEvent): void {
    const field = this.focusedField();
    const box = event.target as HTMLInputElement | null;
    if (!field || !box) return;
    const text = box.value;
    this.api!.stopEditing(true);
    this.edits.write(this.selectedInOrder(), field, text);
  }

  private extend(from: number, event: KeyboardEvent): void {
    event.preventDefault();
    this.anchor ??= from;
    const to = from + (event.key === 'ArrowDown' ? 1 : -1);
    if (!this.api!.getDisplayedRowAtIndex(to)) return;
    this.api!.setFocusedCell(to, this.api!.getFocusedCell()!.column);
    this.choose(Math.min(this.anchor, to), Math.max(this.anchor, to));
    // ag-grid moves its own focus with the arrow as well, unless the event ends here.
    event.stopPropagation();
  }

  /** Selects the rows from one to the other, both included, and no others. */
  private choose(from: number, to: number): void {
    const nodes = Array.from({ length: to - from + 1 }, (_, index) => this.api!.getDisplayedRowAtIndex(from + index)).filter(
      (node) => node !== undefined,
    );
    this.api!.deselectAll();
    this.api!.setNodesSelected({ nodes, newValue: true });
  }

  protected copy(event: ClipboardEvent): void {
    if (this.isEditing()) return;
    const rows = this.selectedInOrder();
    const field = this.focusedField();
    const shown = this.api!.getAllDisplayedColumns().map((column) => column.getColId());
    const texts = rows.map((row) => shown.filter((id) => id !== 'shape').map((id) => this.shownText(row, id)));
    const text =
      rows.length > 1 || !field ? texts.map((cells) => cells.join('\t')).join('\n') : cellText(rows[0]!, field, this.state.context());
    event.clipboardData?.setData('text/plain', text);
    event.preventDefault();
    this.editor.say(rows.length > 1 ? `Copied: ${rows.length} points` : `Copied: ${text}`);
  }

  private shownText(point: Point, column: string): string {
    if (isField(column)) return quoted(cellText(point, column, this.state.context()));
    const source = this.source();
    return quoted(column === 'routes' ? String(source.routes(point)) : source[column as 'raw'](point));
  }

  protected paste(event: ClipboardEvent): void {
    if (this.isEditing()) return;
    const text = event.clipboardData?.getData('text/plain') ?? '';
    const field = this.focusedField();
    event.preventDefault();
    const pasted = pastedLines(text, field !== null);
    if (!pasted) return;
    if (pasted.isTable) return this.offered.emit(text);
    if (!field) return;
    const { lines } = pasted;
    if (lines.length === 1) this.edits.write(this.selectedInOrder(), field, lines[0]!);
    else this.edits.writeDown(this.rowsFrom(this.api!.getFocusedCell()!.rowIndex, lines.length), field, lines);
  }

  /** As many rows as are there, from one on and at most so many. */
  private rowsFrom(index: number, most: number): Point[] {
    return Array.from({ length: most }, (_, below) => this.api!.getDisplayedRowAtIndex(index + below)?.data).filter(
      (row) => row !== undefined,
    );
  }

  private isEditing(): boolean {
    const target = document.activeElement;
    return (
      !this.api ||
      (target instanceof HTMLInputElement && this.element.nativeElement.contains(target)) ||
      this.api.getEditingCells().length > 0
    );
  }

  private focusedField(): CellField | null {
    const column = this.api?.getFocusedCell()?.column.getColId() ?? '';
    return isField(column) ? column : null;
  }

  private selectedInOrder(): Point[] {
    const nodes = this.api?.getSelectedNodes() ?? [];
    return [...nodes].sort((a, b) => (a.rowIndex ?? 0) - (b.rowIndex ?? 0)).flatMap(({ data }) => data ?? []);
  }
}

function isField(column: string): column is CellField {
  return (cellFields as readonly string[]).includes(column);
}
