import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { RouterLink } from '@angular/router';
import { type Counters, hasTrouble } from '@plain-envoy/core/feed';
import type { PlannedRequest } from '@plain-envoy/core/plan';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { msText, timeText } from '../../parts/format';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { MatCheckboxModule } from '@angular/material/checkbox';

/** A line, a device or a request, and the devices or the request whose tries are counted in it. */
interface Row {
  key: string;
  level: 0 | 1 | 2;
  name: string;
  deviceId: string | null;
  of: readonly string[];
}

interface Tally {
  answered: number;
  noAnswer: number;
  damaged: number;
  refused: string;
  late: number;
  trouble: boolean;
}

interface Counted {
  tally: Tally;
  /** Of a device or a request; a line has no last answer of its own. */
  last: Counters | null;
}

/** How all tries ended, by line, device and request: the three ways of going wrong kept apart, with times and the last error. */
@Component({
  selector: 'pe-counters-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatCheckboxModule, RouterLink, Table],
  template: `<mat-checkbox name="only-trouble" [checked]="onlyTrouble()" (change)="onlyTrouble.set($event.checked)"
      >only where something went wrong</mat-checkbox
    >
    <pe-table
      label="How all tries ended"
      scrolls
      [columns]="columns"
      [rows]="rows()"
      [idOf]="idOf"
      [rowClass]="classOf"
      [nothing]="live.running() ? 'Nothing went wrong so far.' : 'Run the bench; then every try is counted here.'"
    >
      <ng-template peCell="name" let-row>
        @if (row.deviceId; as id) {
          <a routerLink="/trace" [queryParams]="{ device: id }">{{ row.name }}</a>
        } @else {
          {{ row.name }}
        }
      </ng-template>
    </pe-table>`,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      flex: 1;
      min-height: 0;
      padding: 6px 16px 12px;
      box-sizing: border-box;
    }
  `,
})
export class CountersTable {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');
  protected readonly onlyTrouble = signal(false);

  private readonly requestsOf = computed(() => {
    const groups = new Map<string, PlannedRequest[]>();
    for (const request of this.plan.plan().requests) groups.set(request.deviceId, [...(groups.get(request.deviceId) ?? []), request]);
    return groups;
  });
  private readonly devices = rowsFor(this.feed.devices, () => this.project.document()!.devices.map(({ id }) => id));
  protected readonly rows = computed((): Row[] => {
    const { lines, ports, devices } = this.project.document()!;
    const counted = this.devices();
    const all = lines.flatMap((line): Row[] => {
      const here = new Set(ports.filter(({ lineId, kind }) => lineId === line.id && kind !== 'can').map(({ deviceId }) => deviceId));
      const own = devices.filter(({ id }) => here.has(id) && counted.has(id) && this.lineOf(id) === line.id);
      if (own.length === 0) return [];
      const below = own.flatMap((device): Row[] => [
        { key: device.id, level: 1, name: device.name, deviceId: device.id, of: [device.id] },
        ...(this.requestsOf().get(device.id) ?? []).map((request): Row => {
          const name = `function ${request.functionCode}, ${request.count} from offset ${request.offset}`;
          return { key: request.id, level: 2, name, deviceId: null, of: [request.id] };
        }),
      ]);
      return [{ key: line.id, level: 0, name: line.name, deviceId: null, of: own.map(({ id }) => id) }, ...below];
    });
    return this.onlyTrouble() ? all.filter((row) => this.countersOf(row).some(hasTrouble)) : all;
  });
  private readonly table = viewChild.required<Table<Row>>(Table);
  /** Of what is in view; of all devices in trouble where only those are looked for. */
  private readonly requests = rowsFor(this.feed.requests, () => {
    if (!this.onlyTrouble()) return this.inView().flatMap(({ level, key }) => (level === 2 ? [key] : []));
    const troubled = [...this.devices().values()].filter(hasTrouble);
    return troubled.flatMap(
      ({ id }) =>
        this.requestsOf()
          .get(id)
          ?.map((request) => request.id) ?? [],
    );
  });
  private readonly inView = computed(() => this.table().inView());
  private readonly counted = computed(() => new Map(this.inView().map((row) => [row.key, this.counts(row)])));

  protected readonly idOf = ({ key }: Row): string => key;
  protected readonly classOf = (row: Row): string => `level-${row.level}${this.tally(row).trouble ? ' trouble' : ''}`;
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'name', head: 'Line, device, request', more: ({ name }) => name, kind: 'long' },
    { name: 'answered', head: 'answered', hint: 'Answered as it should be', text: (row) => this.tally(row).answered, kind: 'mono number' },
    this.count('noAnswer', 'no answer', 'Nothing came, or a gateway said that nothing came'),
    this.count('damaged', 'damaged', 'Something came that was no sound answer'),
    this.count('refused', 'refused', 'The device answered no, by exception code and how often'),
    this.count('late', 'late', 'Came when nobody waited any more'),
    { name: 'ms', head: 'last · mean · worst ms', text: (row) => timesOf(this.countsOf(row).last), kind: 'mono number' },
    {
      name: 'error',
      head: 'Last error',
      text: (row) => errorOf(this.countsOf(row).last),
      more: (row) => this.countsOf(row).last?.lastError ?? '',
      kind: 'long error',
    },
  ];

  private count(name: 'noAnswer' | 'damaged' | 'refused' | 'late', head: string, hint: string): Column<Row> {
    return { name, head, hint, text: (row) => this.tally(row)[name] || '', kind: 'mono number' };
  }

  private tally(row: Row): Tally {
    return this.countsOf(row).tally;
  }

  private countsOf(row: Row): Counted {
    return this.counted().get(row.key) ?? this.counts(row);
  }

  private counts(row: Row): Counted {
    const counters = this.countersOf(row);
    return { tally: tallyOf(counters), last: row.level === 0 ? null : (counters[0] ?? null) };
  }

  private countersOf({ level, of }: Row): Counters[] {
    const known = level === 2 ? this.requests() : this.devices();
    return of.flatMap((id) => known.get(id) ?? []);
  }

  /** A device on several lines is counted where it is asked: on Ethernet, if it is there. */
  private lineOf(deviceId: string): string | undefined {
    const own = this.project.document()!.ports.filter((port) => port.deviceId === deviceId);
    return (own.find(({ kind }) => kind === 'ethernet') ?? own.find(({ kind }) => kind === 'serial'))?.lineId;
  }
}

function tallyOf(counters: readonly Counters[]): Tally {
  const sum = (of: (row: Counters) => number) => counters.reduce((total, row) => total + of(row), 0);
  const codes = new Map<string, number>();
  for (const { exceptions } of counters)
    for (const [code, count] of Object.entries(exceptions)) codes.set(code, (codes.get(code) ?? 0) + count);
  const [noAnswer, damaged, late] = [sum((row) => row.noAnswer), sum((row) => row.damaged), sum((row) => row.late)];
  const refused = [...codes].map(([code, count]) => `${code}: ${count}`).join(', ');
  return { answered: sum((row) => row.answered), noAnswer, damaged, refused, late, trouble: counters.some(hasTrouble) };
}

function timesOf(last: Counters | null): string {
  return last ? [last.lastMs, last.meanMs, last.worstMs].map(msText).join(' · ') : '';
}

function errorOf(last: Counters | null): string {
  return last?.lastErrorAtMs ? `${timeText(last.lastErrorAtMs)} ${last.lastError}` : '';
}
