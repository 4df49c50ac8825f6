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
import type { AddressReading } from '@plain-envoy/core/address';
import { countedName, following } from '@plain-envoy/core/map';
import { type Point, rawText, valueText } from '@plain-envoy/core/model';
import { AgGridAngular } from 'ag-grid-angular';
import {
  CellApiModule,
  type CellFocusedEvent,
  type CellKeyDownEvent,
  CellStyleModule,
  ClientSideRowModelApiModule,
  ClientSideRowModelModule,
  type ColDef,
  ColumnApiModule,
  type GridApi,
  type GridReadyEvent,
  ModuleRegistry,
  RenderApiModule,
  RowApiModule,
  RowSelectionModule,
  ScrollApiModule,
  SelectEditorModule,
  TextEditorModule,
  TextFilterModule,
  EventApiModule,
  ExternalFilterModule,
} from 'ag-grid-community';
import { Editor } from '../../../data/editor';
import { Live } from '../../../data/live';
import { ProjectStore } from '../../../data/project';
import { atEdge } from '../../../data/state';
import { ageText } from '../../../parts/format';
import { MapState } from '../map-state';
import { type CellSource, columnsOf, liveColumns } from './columns';
import { paperTheme } from './theme';
import { type CellField, cellFields, cellText, writeCell } from '@plain-envoy/core/fields';

ModuleRegistry.registerModules([
  CellApiModule,
  CellStyleModule,
  ClientSideRowModelApiModule,
  ClientSideRowModelModule,
  ColumnApiModule,
  EventApiModule,
  ExternalFilterModule,
  RenderApiModule,
  RowApiModule,
  RowSelectionModule,
  ScrollApiModule,
  SelectEditorModule,
  TextEditorModule,
  TextFilterModule,
]);

/** What was typed into a cell and is not saved: on its way, or with the reason why it cannot be. */
interface Draft {
  text: string;
  problem: string | null;
}

/** An address that could be understood in other ways as well. */
export interface Ambiguous {
  point: Point;
  text: string;
  readings: AddressReading[];
}

const SETTLE_MS = 60;

/** The register map of a device as a grid whose cells are edited in place, by one or many rows. */
@Component({
  selector: 'pe-point-grid',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AgGridAngular],
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
  private readonly editor = inject(Editor);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private api: GridApi<Point> | null = null;
  private shownPoints: readonly Point[] = [];
  private readonly drafts = new Map<string, Draft>();
  private anchor: number | null = null;
  private settling: ReturnType<typeof setTimeout> | undefined;

  readonly problem = output<string | null>();
  readonly ambiguous = output<Ambiguous | null>();
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
    this.save(`Change the address of ${point.name}`, [changed]);
  }

  /** The value of the first selected row down all others: names count up, addresses follow one another. */
  fillDown(): void {
    const field = this.focusedField();
    const rows = this.selectedInOrder();
    const [first, ...others] = rows;
    if (!field || !first || others.length === 0) return this.problem.emit('Select several rows, the first with what is to be filled down.');
    const places = following(first, rows);
    const text = cellText(first, field, this.state.context());
    const filled: Point[] = [];
    for (const [index, row] of others.entries()) {
      if (field === 'address') {
        filled.push({ ...row, ...places[index + 1]!, table: row.type === 'bit' || first.type !== 'bit' ? first.table : row.table });
        continue;
      }
      const written = writeCell(row, field, field === 'name' ? countedName(text, index + 1) : text, this.state.context());
      if (!written.ok) return this.problem.emit(`${row.name}: ${written.problem.message}`);
      filled.push(written.value.point);
    }
    this.save(`Fill ${field} down ${others.length} points`, filled);
  }

  private save(label: string, after: readonly Point[]): void {
    this.state.save(label, after).subscribe((problem) => this.problem.emit(problem));
  }

  private source(): CellSource {
    return {
      text: (point, field) => this.drafts.get(keyOf(point, field))?.text ?? cellText(point, field, this.state.context()),
      isWrong: (point, field) => !!this.drafts.get(keyOf(point, field))?.problem,
      write: (point, field, text) => this.write([point], field, text),
      raw: (point) => rawText(this.state.wordsOf(point), point),
      value: (point) => valueText(this.state.wordsOf(point), point),
      quality: (point) => {
        const reading = this.state.readings().get(point.id);
        return reading ? reading.quality : this.state.readWords(point) ? 'read' : '';
      },
      age: (point) => ageText(this.state.readings().get(point.id)?.atMs, this.live.now()),
      routes: (point) => this.uses().get(point.id) ?? 0,
    };
  }

  /** Writes text into a column of some rows. What does not fit stays in its cell, with the reason. */
  private write(rows: readonly Point[], field: CellField, text: string): void {
    this.problem.emit(null);
    this.ambiguous.emit(null);
    const after: Point[] = [];
    let other: Ambiguous | null = null;
    for (const point of rows) {
      const key = keyOf(point, field);
      const written = writeCell(point, field, text, this.state.context());
      if (!written.ok) {
        this.drafts.set(key, { text, problem: written.problem.message });
        this.problem.emit(`${point.name}, ${field}: ${written.problem.message}`);
        continue;
      }
      this.drafts.delete(key);
      if (rows.length === 1 && written.value.readings.length)
        other = { point: written.value.point, text, readings: written.value.readings };
      if (cellText(written.value.point, field, this.state.context()) === cellText(point, field, this.state.context())) continue;
      this.drafts.set(key, { text, problem: null });
      after.push(written.value.point);
    }
    const label = after.length === 1 ? `Change ${field} of ${after[0]!.name}` : `Change ${field} of ${after.length} points`;
    this.state.save(label, after).subscribe((refused) => {
      for (const point of after) {
        if (refused) this.drafts.set(keyOf(point, field), { text, problem: refused });
        else this.drafts.delete(keyOf(point, field));
      }
      if (refused) this.problem.emit(refused);
      // Another reading is of the point as it is then saved; offered sooner, it would be taken for an edit of what it was.
      else this.ambiguous.emit(other);
      this.refresh(rows);
    });
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
    const draft = field && this.drafts.get(keyOf(node.data, field));
    if (draft?.problem) this.problem.emit(`${node.data.name}, ${field}: ${draft.problem}`);
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
      void this.fillDown();
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
    this.write(this.selectedInOrder(), field, text);
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
    const lines = text.replace(/(\r\n|\r|\n)$/, '').split(/\r\n|\r|\n/);
    if (!text.trim()) return;
    if (text.includes('\t') || (lines.length > 1 && !field) || lines.some((line) => /\s{2,}|[;,|]/.test(line.trim()) && lines.length > 1))
      return this.offered.emit(text);
    if (!field) return;
    if (lines.length === 1) this.write(this.selectedInOrder(), field, lines[0]!);
    else this.writeDown(field, lines);
  }

  /** One column of a spreadsheet, from the cursor downwards. */
  private writeDown(field: CellField, lines: readonly string[]): void {
    const from = this.api!.getFocusedCell()!.rowIndex;
    const after: Point[] = [];
    for (const [index, line] of lines.entries()) {
      const row = this.api!.getDisplayedRowAtIndex(from + index)?.data;
      if (!row)
        return this.problem.emit(`${lines.length} lines do not fit: only ${index} rows are there from here on. Nothing was changed.`);
      const written = writeCell(row, field, line, this.state.context());
      if (!written.ok) return this.problem.emit(`${row.name}, ${field}: ${written.problem.message} Nothing was changed.`);
      after.push(written.value.point);
    }
    this.save(`Paste ${field} of ${after.length} points`, after);
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

function keyOf(point: Point, field: CellField): string {
  return `${point.id} ${field}`;
}

function isField(column: string): column is CellField {
  return (cellFields as readonly string[]).includes(column);
}

/** A cell for the clipboard; line breaks and tabs in it are kept together by quotes. */
function quoted(text: string): string {
  return /[\t\r\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
