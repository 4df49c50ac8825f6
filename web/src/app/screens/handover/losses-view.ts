import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import {
  afterText,
  effectText,
  type LossEffect,
  lossRests,
  type LostValue,
  lostWhen,
  type LostWhen,
  type MeasuredValue,
  measuredText,
  unnoticed,
} from '@plain-envoy/core/handover';
import { Live } from '../../data/live';
import { LossMeasures } from '../../data/loss-measures';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Running } from '../../parts/running';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

/** What is lost when a device, a gateway or a line fails: each that takes something with it, and then its values one by one. */
@Component({
  selector: 'pe-losses-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatButtonModule, RouterLink, Running, Table],
  template: `<div class="both">
    <div class="failing">
      <div class="bar">
        @if (measures.isRunning()) {
          <pe-running label="How far the measuring is" stopName="stop-measuring" [progress]="measures.progress()" (stopped)="stop()" />
        } @else if (live.onRealPlant()) {
          <span class="quiet">The bench runs on the real plant, where nothing is cut off.</span>
        } @else {
          <button mat-stroked-button type="button" name="measure-all" (click)="measure(null)">Measure all on the bench</button>
          <button mat-button type="button" name="measure-one" [disabled]="!chosen()" (click)="measure(chosen())">Only this one</button>
        }
      </div>
      @if (measures.problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="sheet">
        <pe-table
          follows
          label="What may fail"
          nothing="Nothing is carried yet."
          [columns]="columns"
          [rows]="rows()"
          [idOf]="idOf"
          [chosen]="chosenIds()"
          (choose)="choose($event)"
        />
      </div>
    </div>
    @if (chosen(); as row) {
      <section class="what" aria-live="polite">
        <h2>When the {{ row.failing.kind }} {{ row.failing.name }} fails</h2>
        <p>{{ summaryOf(row) }}</p>
        @if (measuredOf(row); as text) {
          <p [class.problem]="stateOf(row) !== 'as reckoned'" data-name="measured">{{ text }}</p>
        }
        @if (row.trips.length) {
          <ul aria-label="Who notices">
            @for (trip of row.trips; track $index) {
              <li>
                <strong>{{ trip.device }}</strong> trips after {{ trip.afterMs / 1000 }} s, by {{ trip.by }}.
              </li>
            }
          </ul>
        }
        <div class="values">
          <pe-table label="Values that are lost" [columns]="valueColumns" [rows]="row.lost" [idOf]="idOfValue">
            <ng-template peCell="route" let-one>
              <a routerLink="/routes" [queryParams]="{ route: one.routeId }">{{ one.route }}</a>
            </ng-template>
          </pe-table>
        </div>
      </section>
    }
  </div>`,
  styleUrls: ['./handover.scss', './variables-view.scss', './losses-view.scss'],
})
export class LossesView {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly measuring = inject(LossMeasures);
  protected readonly measures = atEdge(this.measuring, 'kept', 'progress', 'problem', 'isRunning');
  protected readonly live = atEdge(inject(Live), 'onRealPlant');
  readonly of = input.required<string>();

  protected readonly rows = computed(() => lostWhen(this.project.document()!, this.plan.plan()));
  private readonly chosenId = linkedSignal<string | null>(() => (this.of(), null));
  protected readonly chosen = computed(() => this.rows().find((row) => this.idOf(row) === this.chosenId()) ?? this.rows()[0] ?? null);
  protected readonly chosenIds = computed(() => new Set(this.chosen() ? [this.idOf(this.chosen()!)] : []));
  protected readonly idOf = ({ failing }: LostWhen): string => failing.id;
  protected readonly columns: readonly Column<LostWhen>[] = [
    { name: 'failing', head: 'When this fails', kind: 'strong', text: ({ failing }) => failing.name },
    {
      ...{ name: 'measured', head: 'Measured', text: (row: LostWhen) => this.stateOf(row) },
      classOf: (row) => (['as reckoned', ''].includes(this.stateOf(row)) ? '' : 'problem'),
    },
    {
      ...{ name: 'unnoticed', head: 'As before', kind: 'number strong', hint: 'Values that look as good as before, though they are not' },
      text: (row) => unnoticed(row).length || '',
      by: (row) => unnoticed(row).length,
    },
    ...(
      [
        ['marked', 'Marked', 'marked'],
        ['substituted', 'Replaced', 'substituted'],
        ['unwritten', 'Unwritten', 'not written'],
      ] as const
    ).map(([name, head, effect]): Column<LostWhen> => ({
      ...{ name, head, kind: 'number' },
      text: (row) => countOf(row, effect) || '',
      by: (row) => countOf(row, effect),
    })),
    { name: 'trips', head: 'Trips', kind: 'number', text: ({ trips }) => trips.length || '', by: ({ trips }) => trips.length },
  ];
  /** What was measured of the one that is chosen, by route. */
  protected readonly seen = computed(() => {
    const measured = this.measures.kept().get(this.chosen()?.failing.id ?? '');
    return new Map((measured?.values ?? []).map((value) => [value.routeId, value]));
  });
  protected readonly idOfValue = ({ routeId }: LostValue): string => routeId;
  protected readonly valueColumns: readonly Column<LostValue>[] = [
    { name: 'destination', head: 'Value', text: ({ destination }) => destination },
    {
      name: 'effect',
      head: 'What becomes of it',
      text: effectText,
      classOf: ({ effect, by }) => (by === '' && effect !== 'tells' ? 'problem' : ''),
    },
    { name: 'after', head: 'After', text: afterText, by: ({ toMs }) => toMs },
    {
      ...{ name: 'measured', head: 'Measured', text: (row) => measuredText(this.seen().get(row.routeId)) },
      classOf: (row) => (this.seen().get(row.routeId)?.state === 'otherwise' ? 'problem' : ''),
    },
    { name: 'route', head: 'Route' },
  ];

  constructor() {
    this.measuring.load();
  }

  protected measure(row: LostWhen | null): void {
    this.measuring.start(row && [row.failing.id]);
  }

  protected stop(): void {
    this.measuring.stop();
  }

  /** How what was measured stands beside what is reckoned; empty where nothing was. */
  protected stateOf(row: LostWhen): string {
    const measured = this.measures.kept().get(row.failing.id);
    if (!measured) return '';
    if (measured.rests !== lossRests(row)) return 'changed since';
    const otherwise = measured.values.filter(({ state }) => state === 'otherwise').length;
    if (otherwise) return `${otherwise} otherwise`;
    return measured.values.some(({ state }) => state === 'as reckoned') ? 'as reckoned' : 'not measured';
  }

  protected measuredOf(row: LostWhen): string {
    const state = this.stateOf(row);
    if (state === '' || state === 'changed since') return state && 'It was measured before what is reckoned changed.';
    const values = this.measures.kept().get(row.failing.id)!.values;
    const count = (wanted: MeasuredValue['state']) => values.filter((value) => value.state === wanted).length;
    const others = (['otherwise', 'not measured'] as const).flatMap((one) => (count(one) ? `${count(one)} ${one}` : []));
    return `Measured on the bench: ${[`${count('as reckoned')} of ${values.length} as reckoned`, ...others].join(', ')}.`;
  }

  protected choose(row: LostWhen): void {
    this.chosenId.set(this.idOf(row));
  }

  protected summaryOf(row: LostWhen): string {
    const unmarked = unnoticed(row).length;
    const all = `${row.lost.length} ${row.lost.length === 1 ? 'value does' : 'values do'} not arrive any more`;
    return unmarked
      ? `${all}; ${unmarked} of them ${unmarked === 1 ? 'looks' : 'look'} as good as before.`
      : `${all}; none of them looks as good as before.`;
  }
}

function countOf({ lost }: LostWhen, effect: LossEffect): number {
  return lost.filter((row) => row.effect === effect).length;
}
