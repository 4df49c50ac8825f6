import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { type Counters, hasTrouble } from '@plain-envoy/core/feed';
import type { PlannedRequest } from '@plain-envoy/core/plan';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { msText, timeText } from '../../parts/format';
import { ROW_PX, rowsInView } from '../../parts/rows-in-view';
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

/** How all tries ended, by line, device and request: the three ways of going wrong kept apart, with times and the last error. */
@Component({
  selector: 'pe-counters-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatCheckboxModule, RouterLink],
  template: `<mat-checkbox name="only-trouble" [checked]="onlyTrouble()" (change)="onlyTrouble.set($event.checked)"
      >only where something went wrong</mat-checkbox
    >
    <table class="paper-table" aria-label="How all tries ended">
      <thead>
        <tr>
          <th>Line, device, request</th>
          <th class="number" title="Answered as it should be">answered</th>
          <th class="number" title="Nothing came, or a gateway said that nothing came">no answer</th>
          <th class="number" title="Something came that was no sound answer">damaged</th>
          <th class="number" title="The device answered no, by exception code and how often">refused</th>
          <th class="number" title="Came when nobody waited any more">late</th>
          <th class="number">last · mean · worst ms</th>
          <th>Last error</th>
        </tr>
      </thead>
      <tbody>
        @if (window().above; as px) {
          <tr [style.height.px]="px"></tr>
        }
        @for (row of shown(); track row.key) {
          <tr [attr.data-level]="row.level" [class.trouble]="row.tally.trouble">
            <td class="name" [title]="row.name">
              @if (row.deviceId; as id) {
                <a routerLink="/trace" [queryParams]="{ device: id }">{{ row.name }}</a>
              } @else {
                {{ row.name }}
              }
            </td>
            <td class="mono number">{{ row.tally.answered }}</td>
            <td class="mono number">{{ row.tally.noAnswer || '' }}</td>
            <td class="mono number">{{ row.tally.damaged || '' }}</td>
            <td class="mono number">{{ row.tally.refused }}</td>
            <td class="mono number">{{ row.tally.late || '' }}</td>
            <td class="mono number">
              @if (row.last; as last) {
                {{ ms(last.lastMs) }} · {{ ms(last.meanMs) }} · {{ ms(last.worstMs) }}
              }
            </td>
            <td class="error" [title]="row.last?.lastError ?? ''">
              @if (row.last?.lastErrorAtMs; as at) {
                <span class="mono">{{ time(at) }}</span> {{ row.last?.lastError }}
              }
            </td>
          </tr>
        } @empty {
          <tr>
            <td colspan="8" class="nothing-yet">
              {{ live.running() ? 'Nothing went wrong so far.' : 'Run the bench; then every try is counted here.' }}
            </td>
          </tr>
        }
        @if (window().below; as px) {
          <tr [style.height.px]="px"></tr>
        }
      </tbody>
    </table>`,
  styles: `
    :host {
      display: block;
      flex: none;
      height: 100%;
      overflow: auto;
      padding: 6px 16px 12px;
      box-sizing: border-box;
    }
    tr[data-level] {
      height: ${ROW_PX}px;
    }
    [data-level] td {
      padding-block: 2px;
    }
    [data-level='0'] td {
      font-weight: 700;
    }
    [data-level='1'] .name {
      padding-left: 24px;
    }
    [data-level='2'] .name {
      padding-left: 44px;
      color: var(--mat-sys-on-surface-variant);
    }
    .name,
    .error {
      max-width: 300px;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .trouble .error,
    .trouble[data-level='1'] a {
      color: var(--pe-bad);
    }
  `,
})
export class CountersTable {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');
  protected readonly onlyTrouble = signal(false);
  protected readonly ms = msText;
  protected readonly time = timeText;

  private readonly requestsOf = computed(() => {
    const groups = new Map<string, PlannedRequest[]>();
    for (const request of this.plan.plan().requests) groups.set(request.deviceId, [...(groups.get(request.deviceId) ?? []), request]);
    return groups;
  });
  private readonly devices = rowsFor(this.feed.devices, () => this.project.document()!.devices.map(({ id }) => id));
  private readonly rows = computed((): Row[] => {
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
  protected readonly window = rowsInView(this.rows);
  /** Of what is in view; of all devices in trouble where only those are looked for. */
  private readonly requests = rowsFor(this.feed.requests, () => {
    if (!this.onlyTrouble()) return this.window().rows.flatMap(({ level, key }) => (level === 2 ? [key] : []));
    const troubled = [...this.devices().values()].filter(hasTrouble);
    return troubled.flatMap(
      ({ id }) =>
        this.requestsOf()
          .get(id)
          ?.map((request) => request.id) ?? [],
    );
  });
  protected readonly shown = computed(() =>
    this.window().rows.map((row) => {
      const counters = this.countersOf(row);
      return { ...row, tally: tallyOf(counters), last: row.level === 0 ? null : (counters[0] ?? null) };
    }),
  );

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
