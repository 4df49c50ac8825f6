import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { afterText, effectText, type LossEffect, type LostValue, lostWhen, type LostWhen, unnoticed } from '@plain-envoy/core/handover';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

/** What is lost when a device, a gateway or a line fails: each that takes something with it, and then its values one by one. */
@Component({
  selector: 'pe-losses-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, RouterLink, Table],
  template: `<div class="both">
    <div class="sheet failing">
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
    @if (chosen(); as row) {
      <section class="what" aria-live="polite">
        <h2>When the {{ row.failing.kind }} {{ row.failing.name }} fails</h2>
        <p>{{ summaryOf(row) }}</p>
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
  readonly of = input.required<string>();

  protected readonly rows = computed(() => lostWhen(this.project.document()!, this.plan.plan()));
  private readonly chosenId = linkedSignal<string | null>(() => (this.of(), null));
  protected readonly chosen = computed(() => this.rows().find((row) => this.idOf(row) === this.chosenId()) ?? this.rows()[0] ?? null);
  protected readonly chosenIds = computed(() => new Set(this.chosen() ? [this.idOf(this.chosen()!)] : []));
  protected readonly idOf = ({ failing }: LostWhen): string => failing.id;
  protected readonly columns: readonly Column<LostWhen>[] = [
    { name: 'failing', head: 'When this fails', kind: 'strong', text: ({ failing }) => failing.name },
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
    { name: 'route', head: 'Route' },
  ];

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
