import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { isSlow } from '@plain-envoy/core/forecast';
import type { Device } from '@plain-envoy/core/model';
import type { PlannedRequest } from '@plain-envoy/core/plan';
import { Editor } from '../../data/editor';
import { Forecasts } from '../../data/forecasts';
import type { Forecasted } from '../../data/forecast.worker';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { changeText, msText } from './round-words';

/** A request's device, what it carries, and how it is told apart: `Air-on transmitter, reads 12`. */
export function requestName({ deviceName, kind, count, offset }: PlannedRequest): string {
  return `${deviceName}, ${kind === 'write' ? 'writes' : 'reads'} ${count} at ${offset}`;
}

/** What is measured may differ from the forecast by this part, or by this much, before it is called another. */
const TOLERANCE = { part: 0.05, ms: 3 };

interface Row {
  id: string;
  name: string;
  round: string;
  takes: string;
  wished: string;
  mean: string;
  worst: string;
  wait: string;
  missed: string | number;
  isSlow: boolean;
  delay: { before: Device; delayMs: number } | null;
  seenMean: string;
  seenWorst: string;
  took: string;
  verdict: string;
}

/** Each request: the period wished, what the forecast says, and what is measured beside it. */
@Component({
  selector: 'pe-request-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatButtonModule, Table],
  template: `<pe-table
    label="Requests"
    scrolls
    follows
    [columns]="columns()"
    [rows]="rows()"
    [idOf]="idOf"
    [chosen]="chosenIds()"
    nothing="Nothing is carried here yet. Make routes under Routes."
    (choose)="choose.emit($event.id)"
  >
    <ng-template peCell="verdict" let-row>
      {{ row.verdict }}
      @if (row.delay; as delay) {
        <button mat-button type="button" (click)="$event.stopPropagation(); adopt(delay)">State {{ delay.delayMs }} ms</button>
      }
    </ng-template>
  </pe-table>`,
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-height: 0;
    }
    // As low as a line of the table.
    button {
      height: 22px;
    }
  `,
})
export class RequestTable {
  private readonly forecasts = atEdge(inject(Forecasts), 'base', 'shown');
  private readonly live = inject(Live);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'devices');
  private readonly editor = inject(Editor);
  /** Those to show, of the plan as it would run. */
  readonly requests = input.required<readonly PlannedRequest[]>();
  readonly roundNames = input.required<ReadonlyMap<string, string>>();
  readonly measured = input.required<boolean>();
  readonly chosenId = input.required<string | null>();
  readonly choose = output<string>();

  private readonly counters = rowsFor(this.live.requests, () => (this.measured() ? this.requests().map(({ id }) => id) : []));
  protected readonly rows = computed((): Row[] => {
    const [base, shown] = [this.forecasts.base(), this.forecasts.shown()];
    if (!base || !shown) return [];
    const [before, after] = [byId(base), byId(shown)];
    return this.requests().flatMap((request) => {
      const now = after.get(request.id);
      if (!now) return [];
      const was = before.get(request.id) ?? now;
      const counted = this.counters().get(request.id);
      const pace = counted?.pace;
      const took = counted?.meanMs ?? null;
      const slow = isSlow(now);
      return {
        id: request.id,
        name: requestName(request),
        round: this.roundNames().get(request.roundId ?? '') ?? '',
        takes: changeText(was.answeredMs, now.answeredMs),
        wished: msText(now.wishedMs),
        mean: now.runs === 1 ? 'once' : changeText(was.meanPeriodMs, now.meanPeriodMs),
        worst: now.runs === 1 ? '' : changeText(was.worstPeriodMs, now.worstPeriodMs),
        wait: changeText(was.worstWaitMs, now.worstWaitMs),
        missed: was.missed === now.missed ? now.missed : `${was.missed} → ${now.missed}`,
        isSlow: slow,
        delay: this.delayOf(request, now.answeredMs, took),
        seenMean: pace?.meanPeriodMs ? msText(pace.meanPeriodMs) : '',
        seenWorst: pace?.worstPeriodMs ? msText(pace.worstPeriodMs) : '',
        took: took === null ? '' : took.toFixed(1),
        verdict: this.verdict(now.meanPeriodMs, pace?.meanPeriodMs ?? null, now.answeredMs, took, slow, now.rested > 0),
      };
    });
  });

  protected readonly idOf = ({ id }: Row): string => id;
  protected readonly chosenIds = computed(() => new Set([this.chosenId()].filter((id) => id !== null)));
  protected readonly columns = computed((): readonly Column<Row>[] => {
    const figure = (name: 'takes' | 'wished' | 'mean' | 'worst' | 'wait' | 'missed' | 'seenMean' | 'seenWorst' | 'took', head: string) => ({
      ...{ name, head, text: (row: Row) => row[name], kind: 'mono number' },
      ...(name === 'mean' ? { classOf: ({ isSlow }: Row) => (isSlow ? 'bad' : '') } : {}),
    });
    return [
      { name: 'name', head: 'Request', text: ({ name }) => name, more: ({ name }) => name, kind: 'long name', by: ({ name }) => name },
      { name: 'round', head: 'Round', text: ({ round }) => round, by: ({ round }) => round },
      ...[figure('takes', 'one takes'), figure('wished', 'wished'), figure('mean', 'mean'), figure('worst', 'worst')],
      ...[figure('wait', 'longest wait'), figure('missed', 'missed')],
      ...(this.measured() ? [figure('seenMean', 'measured mean'), figure('seenWorst', 'worst'), figure('took', 'one took')] : []),
      { name: 'verdict', head: '', classOf: ({ isSlow }) => (isSlow ? 'bad' : 'good') },
    ];
  });

  /** The response delay of the device is really this; the forecast is made with it from then on. */
  protected adopt({ before, delayMs }: { before: Device; delayMs: number }): void {
    const label = `State ${delayMs} ms as the delay of ${before.name}`;
    this.store
      .commit(label, [{ entity: 'device', id: before.id, before, after: { ...before, delayMs } }])
      .subscribe((answer) => this.editor.say(answer.ok ? `${label}. Undo with Ctrl+Z.` : answer.problem.message));
  }

  /** The delay that would explain what is measured, where a device answers more slowly than it states. */
  private delayOf({ deviceId }: PlannedRequest, takes: number, took: number | null): { before: Device; delayMs: number } | null {
    const before = this.project.devices().get(deviceId);
    if (!before || took === null || !isSlower(takes, took)) return null;
    return { before, delayMs: Math.round(before.delayMs + took - takes) };
  }

  private verdict(said: number | null, seen: number | null, takes: number, took: number | null, slow: boolean, rests: boolean): string {
    const differs = said !== null && seen !== null && Math.abs(said - seen) > Math.max(TOLERANCE.ms, TOLERANCE.part * said);
    if (took !== null && isSlower(takes, took)) return 'answers more slowly than stated';
    if (differs) return seen > said ? 'measured is slower: others ask here too, or answers are lost' : 'measured is quicker';
    if (rests) return 'is left to rest';
    return slow ? 'slower than wished' : 'kept';
  }
}

function isSlower(takes: number, took: number): boolean {
  return took > takes * 1.3 + TOLERANCE.ms;
}

function byId({ forecast }: Forecasted) {
  return new Map(forecast.requests.map((row) => [row.id, row]));
}
