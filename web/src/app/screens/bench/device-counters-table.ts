import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { concatMap, finalize, from, map } from 'rxjs';
import { MatButtonModule } from '@angular/material/button';
import { compareCounters, type CountersSeen } from '@plain-envoy/core/diagnose';
import { type DeviceCounter, deviceCounters } from '@plain-envoy/core/feed';
import { DIAGNOSTICS } from '@plain-envoy/core/codec';
import { isModbusLine } from '@plain-envoy/core/media';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { timeText } from '../../parts/format';
import { Choose } from '../../parts/choose';
import { named } from '../../parts/named';

/** Those that are shown in a column of their own; the others are told in the sentences. */
const columns: readonly DeviceCounter[] = ['messages', 'damaged', 'toIt', 'unanswered', 'exceptions'];

interface Seen {
  first: CountersSeen;
  last: CountersSeen;
}

/** What the devices of a serial line have counted of their communication, beside what we have: who saw the damage. */
@Component({
  selector: 'pe-device-counters-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule],
  template: `<div class="tools">
      <pe-choose
        label="Line"
        name="counters-line"
        [options]="lineOptions()"
        [value]="line()?.id ?? ''"
        (valueChange)="lineId.set($event)"
      />
      <button mat-flat-button type="button" name="read-counters" [disabled]="!live.running() || reading()" (click)="read()">
        {{ reading() ? 'Reading …' : 'Read what its devices count' }}
      </button>
      @if (since(); as at) {
        <button mat-button type="button" name="counters-anew" (click)="beginAnew()">Begin anew</button>
        <span class="quiet">since {{ time(at) }}; read again to see what has come since</span>
      } @else {
        <span class="quiet">{{
          live.running() ? 'Read once to begin, and again after a while: what has come since is compared.' : 'Run the bench first.'
        }}</span>
      }
    </div>
    <table class="paper-table" aria-label="What devices count of their communication, beside what we count">
      <thead>
        <tr>
          <th>Device</th>
          @for (key of columns; track key) {
            <th class="number" title="Counted by the device itself, functions 8 and 11">{{ names[key].name }}</th>
          }
          <th class="number" title="Counted by us">we sent</th>
          <th class="number" title="Counted by us">we missed</th>
        </tr>
      </thead>
      <tbody>
        @for (row of rows(); track row.id) {
          <tr [class.trouble]="row.isTrouble" [attr.data-counted]="row.id">
            <td>{{ row.name }}</td>
            @if (row.told; as told) {
              <td class="told" [attr.colspan]="columns.length + 2">{{ told }}</td>
            } @else {
              @for (cell of row.its; track $index) {
                <td class="mono number">{{ cell ?? '–' }}</td>
              }
              <td class="mono number">{{ row.sent }}</td>
              <td class="mono number">{{ row.missed }}</td>
            }
          </tr>
          @if (row.sentences.length) {
            <tr [class.trouble]="row.isTrouble">
              <td></td>
              <td class="told" [attr.colspan]="columns.length + 2">{{ row.sentences.join(' ') }}</td>
            </tr>
          }
        } @empty {
          <tr>
            <td [attr.colspan]="columns.length + 3" class="nothing-yet">No device is on a serial line.</td>
          </tr>
        }
      </tbody>
    </table>`,
  styles: `
    :host {
      overflow: auto;
    }
    .tools {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
      padding: 8px 0;
    }
    th {
      white-space: normal;
      vertical-align: bottom;
    }
    .told {
      white-space: normal;
    }
    tr.trouble .told {
      color: var(--pe-bad);
    }
  `,
})
export class DeviceCountersTable {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly hands = inject(Hands);
  private readonly destroyed = inject(DestroyRef);
  protected readonly live = atEdge(inject(Live), 'running');

  protected readonly columns = columns;
  protected readonly names = deviceCounters;
  protected readonly time = timeText;
  protected readonly lines = computed(() => this.project.document()!.lines.filter(isModbusLine));
  protected readonly lineId = signal<string | null>(null);
  protected readonly line = computed(() => this.lines().find(({ id }) => id === this.lineId()) ?? this.lines()[0]);
  protected readonly reading = signal(false);
  private readonly seen = signal<ReadonlyMap<string, Seen>>(new Map());
  private readonly refused = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly lineOptions = computed(() => named(this.lines()));
  private readonly devices = computed(() => {
    const { devices, ports } = this.project.document()!;
    const here = new Set(
      ports.flatMap((port) => (port.kind === 'serial' && port.lineId === this.line()?.id && port.unitId !== null ? [port.deviceId] : [])),
    );
    return devices.filter(({ id }) => here.has(id));
  });
  protected readonly since = computed(() => {
    const times = this.devices().flatMap(({ id }) => this.seen().get(id)?.first.its.atMs ?? []);
    return times.length ? Math.min(...times) : null;
  });
  protected readonly rows = computed(() =>
    this.devices().map(({ id, name, functionCodes }) => {
      const row = { id, name, its: [], sent: '', missed: '', sentences: [] as string[], isTrouble: false };
      const told = functionCodes.includes(DIAGNOSTICS)
        ? (this.refused().get(id) ?? null)
        : 'Function 8 is none of those that it has, as its map says; it counts nothing that can be read.';
      const seen = this.seen().get(id);
      if (told !== null || !seen) return { ...row, told: told ?? 'Not read yet.' };
      if (seen.first === seen.last) {
        const { its, ours } = seen.last;
        return { ...row, told: null, its: columns.map((key) => its[key]), sent: String(ours.sent), missed: String(missed(ours)) };
      }
      const { its, ours, sentences, isTrouble } = compareCounters(seen.first, seen.last);
      return {
        ...{ ...row, told: null, sentences, isTrouble },
        ...{ its: columns.map((key) => its[key]), sent: `+${ours.sent}`, missed: `+${missed(ours)}` },
      };
    }),
  );

  /** Asks one device after the other. */
  protected read(): void {
    this.reading.set(true);
    from(this.devices().filter(({ functionCodes }) => functionCodes.includes(DIAGNOSTICS)))
      .pipe(
        concatMap(({ id }) => this.hands.counters(id).pipe(map((answer) => ({ id, answer })))),
        takeUntilDestroyed(this.destroyed),
        finalize(() => this.reading.set(false)),
      )
      .subscribe(({ id, answer }) => {
        const refused = new Map(this.refused());
        const last = answer.ok ? answer.value.seen : null;
        if (last) {
          refused.delete(id);
          this.seen.update((seen) => new Map(seen).set(id, { first: seen.get(id)?.first ?? last, last }));
        } else refused.set(id, answer.ok ? (answer.value.why ?? '') : answer.problem.message);
        this.refused.set(refused);
      });
  }

  protected beginAnew(): void {
    this.seen.set(new Map());
    this.refused.set(new Map());
  }
}

function missed({ noAnswer, damaged }: CountersSeen['ours']): number {
  return noAnswer + damaged;
}
