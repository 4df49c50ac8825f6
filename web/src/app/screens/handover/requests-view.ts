import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { requestSheets, type SheetRow } from '@plain-envoy/core/plan';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

/** What a carrier's package is told: its request sheet, in its own terms, with how each number came about. */
@Component({
  selector: 'pe-requests-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, RouterLink, Table],
  template: `@if (sheet(); as sheet) {
    <p class="entry quiet">
      <span class="print-only">{{ project.document()!.project.name }}, revision {{ project.revision() }}, request sheet of</span>
      {{ sheet.carrier }}: {{ sheet.entry }}.
    </p>
    <div class="sheet">
      <pe-table
        follows
        [label]="'Requests of ' + sheet.carrier"
        [columns]="columns()"
        [rows]="sheet.rows"
        [idOf]="idOf"
        [chosen]="chosenIds()"
        (choose)="choose($event)"
      >
        <ng-template peCell="function" let-row
          ><span class="mono">{{ row.functionCode }}</span> {{ row.functionName }}</ng-template
        >
      </pe-table>
    </div>
    @if (chosen(); as row) {
      <section class="why" aria-live="polite">
        <h2>Request {{ row.number }}: how it came about</h2>
        <p>
          @for (text of row.why; track $index) {
            {{ text }}
          }
        </p>
        @if (row.local && row.local.work.length) {
          <h3>* What its program does with each register</h3>
          <ul class="mono">
            @for (text of row.local.work; track $index) {
              <li>{{ text }}</li>
            }
          </ul>
        }
        <p class="routes">
          Carries
          @for (route of carried(); track route.id; let last = $last) {
            <a routerLink="/routes" [queryParams]="{ route: route.id }">{{ route.name }}</a>{{ last ? '.' : ', ' }}
          }
        </p>
      </section>
    }
  }`,
  styleUrls: ['./handover.scss', './stacked.scss'],
})
export class RequestsView {
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  protected readonly project = atEdge(inject(ProjectStore), 'document', 'revision');
  /** Whose sheet: the id of a device, or `plain-envoy`. */
  readonly of = input.required<string>();

  protected readonly sheet = computed(() =>
    requestSheets(this.project.document()!, this.plan.plan()).find(({ carrierId }) => (carrierId ?? 'plain-envoy') === this.of()),
  );
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
  /** The routes that the chosen request carries. */
  protected readonly carried = computed(() => {
    const id = this.chosen()?.requestId;
    return this.plan.plan().routes.filter(({ readId, writeId, valid }) => readId === id || writeId === id || valid?.writeId === id);
  });

  protected choose(row: SheetRow): void {
    this.chosenId.set(row.requestId);
  }
}

function localOf({ local }: SheetRow): string {
  if (!local) return '';
  const place = local.first === local.last ? local.first : `${local.first} … ${local.last}`;
  return local.isDirect ? place : `${place} *`;
}
