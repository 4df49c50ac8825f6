import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { requestSheets, type SheetRow } from '@plain-envoy/core/plan';
import { Documents } from '../../data/documents';
import { Editor } from '../../data/editor';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { MappingView } from './mapping-view';
import { Actions } from '../../parts/actions';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { MatTabsModule } from '@angular/material/tabs';

/** What a carrier's package is told: its request sheet, in its own terms, with how each number came about. */
@Component({
  selector: 'pe-handover',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MappingView, MatButtonModule, MatTabsModule, RouterLink, Table],
  templateUrl: './handover.html',
  styleUrl: './handover.scss',
})
export class HandoverScreen {
  private readonly router = inject(Router);
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly project = atEdge(inject(ProjectStore), 'document', 'revision');
  protected readonly formats = atEdge(inject(Documents), 'menus').menus;
  /** Whose sheet is shown, from the address: the id of a device, or `plain-envoy`. */
  readonly carrier = input<string>();

  /** The converter whose mapping sheet is shown in its place. */
  readonly converter = input<string>();

  protected readonly converters = computed(() =>
    this.project.document()!.devices.filter(({ kind, image }) => kind === 'converter' && image),
  );
  protected readonly mapped = computed(() => this.converters().find(({ id }) => id === this.converter()) ?? null);
  protected readonly menu = computed(() => this.formats()[this.mapped() ? 'mapping' : 'sheet']);
  protected readonly sheets = computed(() => requestSheets(this.project.document()!, this.plan.plan()));
  protected readonly sheet = computed(() => {
    const wanted = this.carrier();
    return this.sheets().find(({ carrierId }) => (carrierId ?? 'plain-envoy') === wanted) ?? this.sheets()[0] ?? null;
  });
  private readonly chosenId = linkedSignal<string | null>(() => (this.sheet(), null));
  protected readonly chosen = computed(
    () => this.sheet()?.rows.find(({ requestId }) => requestId === this.chosenId()) ?? this.sheet()?.rows[0],
  );
  protected readonly idOf = ({ requestId }: SheetRow): string => requestId;
  protected readonly chosenIds = computed(() => new Set([this.chosen()?.requestId].filter((id) => id !== undefined)));
  protected readonly columns = computed((): readonly Column<SheetRow>[] => [
    { name: 'number', head: 'No.', text: ({ number }) => number, kind: 'number quiet' },
    { name: 'connection', head: 'Connection', text: ({ connection }) => connection, more: ({ connection }) => connection, kind: 'cut' },
    { name: 'unit', head: 'Unit', text: ({ unitId }) => unitId ?? '', kind: 'mono number' },
    { name: 'device', head: 'Device', text: ({ device }) => device },
    { name: 'function', head: 'Function' },
    { name: 'start', head: 'Type', text: ({ start }) => start, kind: 'mono number strong' },
    { name: 'offset', head: 'Wire', text: ({ offset }) => offset, kind: 'mono number quiet' },
    { name: 'count', head: 'Count', text: ({ count }) => count, kind: 'mono number strong' },
    ...(this.sheet()?.carrierId ? [{ name: 'local', head: 'Local', text: localOf, kind: 'mono' }] : []),
    { name: 'trigger', head: 'Trigger', text: ({ trigger }) => trigger },
    { name: 'timeout', head: 'Timeout', text: ({ timeoutMs }) => timeoutMs, kind: 'mono number' },
    { name: 'tries', head: 'Tries', text: ({ tries }) => tries, kind: 'mono number' },
    { name: 'ms', head: 'ms', text: ({ expectedMs }) => expectedMs ?? '', kind: 'mono number' },
  ]);
  protected readonly summary = computed(() => {
    const rows = this.sheet()?.rows ?? [];
    const onLines = rows.filter(({ expectedMs }) => expectedMs !== null);
    const ms = onLines.reduce((sum, { expectedMs }) => sum + expectedMs!, 0);
    const time = onLines.length ? ` · ${Math.round(ms)} ms on serial lines, each once` : '';
    const requests = rows.at(-1)?.number ?? 0;
    return `${requests} request${requests === 1 ? '' : 's'}${time}`;
  });
  /** The routes that the chosen request carries. */
  protected readonly carried = computed(() => {
    const id = this.chosen()?.requestId;
    return this.plan.plan().routes.filter(({ readId, writeId, valid }) => readId === id || writeId === id || valid?.writeId === id);
  });

  constructor() {
    inject(Actions).offer({ 'handover.copy': () => this.copy(), 'handover.print': () => this.print() });
  }

  protected path(format: string): string {
    const mapped = this.mapped();
    if (mapped) return `/api/projects/${mapped.projectId}/devices/${mapped.id}/mapping?format=${format}`;
    return `/api/projects/${this.project.document()!.project.id}/sheets/${this.sheet()?.carrierId ?? 'plain-envoy'}?format=${format}`;
  }

  protected show(carrierId: string | null): void {
    void this.router.navigate([], { queryParams: { carrier: carrierId ?? 'plain-envoy' }, replaceUrl: true });
  }

  protected showMapping(converter: string): void {
    void this.router.navigate([], { queryParams: { converter }, replaceUrl: true });
  }

  protected choose(row: SheetRow): void {
    this.chosenId.set(row.requestId);
  }

  /** The table for the clipboard, cells apart by tabs, as spreadsheets take it. */
  protected async copy(): Promise<void> {
    const table = this.element.nativeElement.querySelector('table');
    const rows = [...(table?.rows ?? [])].map((row) => [...row.cells].map((cell) => cell.innerText.replace(/\s+/g, ' ').trim()).join('\t'));
    await navigator.clipboard.writeText(rows.join('\n'));
    this.editor.say(`Copied: ${rows.length - 1} rows`);
  }

  protected print(): void {
    window.print();
  }
}

function localOf({ local }: SheetRow): string {
  if (!local) return '';
  const place = local.first === local.last ? local.first : `${local.first} … ${local.last}`;
  return local.isDirect ? place : `${place} *`;
}
