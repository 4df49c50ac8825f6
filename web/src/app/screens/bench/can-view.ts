import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { hexIdentifier } from '@plain-envoy/core/can';
import { knownFrame, timeOfBus } from '@plain-envoy/core/can-line';
import { type CarriedFrame, framesOn } from '@plain-envoy/core/converter';
import type { CanLineState, SeenFrame } from '@plain-envoy/core/feed';
import { exhaustMap, of, switchMap, timer } from 'rxjs';
import { CanLines } from '../../data/can-lines';
import { ProjectStore } from '../../data/project';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { choiceAmong } from '../../parts/choice';
import { Choose } from '../../parts/choose';
import { clockText } from '../../parts/format';
import { named } from '../../parts/named';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

const LOOK_MS = 1000;

/** One byte of the last frame of an identifier. */
interface SeenByte {
  hex: string;
  hasMoved: boolean;
}

/** What goes over a line of CAN of the stand-ins: every identifier that was seen, and how each station stands with the errors of the bus. */
@Component({
  selector: 'pe-can-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, Choose, MatButtonModule, Table],
  template: `
    <div class="row">
      @if (lines().length > 1) {
        <pe-choose label="Line" name="line" [options]="lineOptions()" [value]="lineId()" (valueChange)="lineId.set($event)" />
      }
      <span data-name="bus" role="status">{{ bus() }}</span>
      <span class="spread"></span>
      @if (lineId()) {
        <a mat-button [href]="logUrl('log')" download data-name="log">Save as a log</a>
        <a mat-button [href]="logUrl('csv')" download data-name="csv">Save as CSV</a>
      }
    </div>
    <p class="stations">
      @for (station of stations(); track station.name) {
        <span [class.trouble]="station.isTrouble">{{ station.text }}</span>
      }
    </p>
    <pe-table
      scrolls
      label="Identifiers that were seen"
      [nothing]="lines().length ? 'Nothing was seen yet.' : 'No line of this project is CAN.'"
      [columns]="columns"
      [rows]="rows()"
      [idOf]="idOf"
    >
      <ng-template peCell="data" let-row>
        @for (byte of bytesOf(row); track $index) {
          <span [class.moved]="byte.hasMoved">{{ byte.hex }}</span>&nbsp;
        }
      </ng-template>
    </pe-table>
  `,
  styles: `
    :host {
      display: flex;
      flex: 1;
      flex-direction: column;
      gap: 8px;
      min-height: 0;
      padding: 10px 16px 12px;
    }
    .row {
      display: flex;
      align-items: center;
      gap: 12px;
    }
    .spread {
      flex: 1;
    }
    .stations {
      display: flex;
      gap: 18px;
      margin: 0;
    }
    .moved {
      font-weight: 700;
    }
  `,
})
export class CanView {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly canLines = inject(CanLines);
  private readonly service = inject(StandIns);
  private readonly standIns = atEdge(this.service, 'all');
  protected readonly lines = computed(() => this.project.document()!.lines.filter(({ kind }) => kind === 'can'));
  protected readonly lineOptions = computed(() => named(this.lines()));
  protected readonly lineId = choiceAmong(this.lines);
  private readonly state = signal<CanLineState | null>(null);
  protected readonly rows = computed((): readonly SeenFrame[] => this.state()?.frames ?? []);
  private readonly frames = computed(() => framesOn(this.project.document()!, this.lineId()));
  protected readonly bus = computed(() => {
    const state = this.state();
    if (!state) return 'No stand-ins play this line.';
    const { load } = timeOfBus(this.project.document()!, this.lineId());
    const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
    const parts = [
      `${percent(state.load)} of the bus are filled, ${percent(load)} reckoned at worst`,
      `${state.damaged} frames destroyed`,
      `${state.silent} acknowledged by nobody`,
    ];
    return parts.join(' · ');
  });
  protected readonly stations = computed(() => {
    const { ports, devices } = this.project.document()!;
    const here = new Map(ports.filter(({ lineId }) => lineId === this.lineId()).map(({ id, deviceId }) => [id, deviceId]));
    return this.standIns.all().flatMap(({ cans, cut }) =>
      cans.flatMap(({ portId, errors }) => {
        const name = devices.find(({ id }) => id === here.get(portId))?.name;
        if (!name) return [];
        const text =
          cut || !errors ? `${name}: cut off` : `${name}: ${errors.state}, ${errors.transmit} sending, ${errors.receive} hearing`;
        return [{ name, text, isTrouble: cut || errors?.state !== 'error active' }];
      }),
    );
  });

  protected readonly idOf = (row: SeenFrame): string => hexIdentifier(row);
  protected readonly columns: readonly Column<SeenFrame>[] = [
    { name: 'identifier', head: 'Identifier', kind: 'mono', text: hexIdentifier, by: ({ identifier }) => identifier },
    { name: 'frame', head: 'Frame', text: (row) => this.nameOf(row), classOf: (row) => (this.frameOf(row) ? '' : 'quiet') },
    { name: 'count', head: 'Count', kind: 'number', text: ({ count }) => count, by: ({ count }) => count },
    {
      ...{ name: 'period', head: 'Every, ms', kind: 'number' },
      text: ({ periodMs }) => (periodMs === null ? '' : periodMs.toFixed(1)),
      by: ({ periodMs }) => periodMs ?? -1,
    },
    {
      ...{ name: 'jitter', head: 'Off at most, ms', kind: 'number', hint: 'How far a time between two was from the usual one' },
      text: ({ jitterMs }) => (jitterMs === null ? '' : jitterMs.toFixed(1)),
      by: ({ jitterMs }) => jitterMs ?? -1,
    },
    { name: 'data', head: 'Last bytes', kind: 'mono', hint: 'Those that were ever seen to change stand out' },
    { name: 'at', head: 'Last at', kind: 'mono', text: ({ lastAtMs }) => clockText(lastAtMs), by: ({ lastAtMs }) => lastAtMs },
  ];

  constructor() {
    toObservable(this.lineId)
      .pipe(
        switchMap((id) => (id ? timer(0, LOOK_MS).pipe(exhaustMap(() => (this.service.refresh(), this.canLines.look(id)))) : of(null))),
        takeUntilDestroyed(),
      )
      .subscribe((state) => this.state.set(state));
  }

  protected logUrl(form: 'log' | 'csv'): string {
    return this.canLines.logUrl(this.lineId(), form);
  }

  protected bytesOf({ data, movedBits }: SeenFrame): SeenByte[] {
    const moved = new Set(movedBits.map((bit) => bit >> 3));
    return data
      .split(' ')
      .filter(Boolean)
      .map((hex, index) => ({ hex, hasMoved: moved.has(index) }));
  }

  private frameOf(row: SeenFrame): CarriedFrame | undefined {
    return knownFrame(this.frames(), row);
  }

  private nameOf(row: SeenFrame): string {
    const frame = this.frameOf(row);
    return frame ? `${frame.name}, ${frame.direction === 'sent' ? 'of' : 'to'} ${frame.deviceName}` : 'none of the project';
  }
}
