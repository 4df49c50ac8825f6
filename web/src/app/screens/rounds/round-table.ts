import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { type Change, Round } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Forecasts } from '../../data/forecasts';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { numberOrNone, typedNumber } from '../../parts/form';
import { changeText } from './round-words';
import { TextField } from '../../parts/text-field';

const words = { periodMs: 'period', phaseMs: 'first time', pauseMs: 'pause', priority: 'priority' };

/** The rounds: name, period and priority are changed in place; an empty round can be deleted. */
@Component({
  selector: 'pe-round-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, TextField],
  template: `<table class="paper-table" aria-label="Rounds">
      <thead>
        <tr>
          <th>Round</th>
          <th class="number">period, ms</th>
          <th class="number">first after, ms</th>
          <th class="number">chain pause, ms</th>
          <th class="number">priority, 0 first</th>
          <th class="number">values</th>
          <th class="number">requests</th>
          <th class="number">slowest mean</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        @for (row of rows(); track row.round.id) {
          <tr>
            @for (field of fields; track field) {
              <td [class.number]="field !== 'name'">
                <pe-text
                  [class.wide]="field === 'name'"
                  [aria]="field + ' of ' + row.round.name"
                  [name]="row.round.id + field"
                  [value]="'' + (row.round[field] ?? '')"
                  [problem]="problem()?.at === row.round.id + field ? problem()!.message : null"
                  [placeholder]="field === 'pauseMs' ? 'by the clock' : ''"
                  (change)="set(row.round, field, $any($event.target).value)"
                />
              </td>
            }
            <td class="mono number">{{ row.values }}</td>
            <td class="mono number">{{ row.requests }}</td>
            <td class="mono number">{{ row.reached }}</td>
            <td>
              @if (problem(); as found) {
                @if (found.at.startsWith(row.round.id)) {
                  <span class="bad" role="alert">{{ found.message }}</span>
                }
              }
              @if (row.values === 0) {
                <button mat-button type="button" (click)="drop(row.round)">Delete</button>
              }
            </td>
          </tr>
        }
      </tbody>
    </table>
    <button mat-button type="button" name="add-round" (click)="add()">Add a round</button>`,
  styles: `
    .wide {
      width: 220px;
      max-width: 220px;
    }
    .bad {
      color: var(--pe-bad);
    }
    [aria-invalid='true'] {
      border-color: var(--pe-bad);
    }
  `,
})
export class RoundTable {
  private readonly forecasts = atEdge(inject(Forecasts), 'base', 'shown');
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  protected readonly fields = ['name', 'periodMs', 'phaseMs', 'pauseMs', 'priority'] as const;
  protected readonly problem = signal<{ at: string; message: string } | null>(null);

  protected readonly rows = computed(() => {
    const { rounds, routes } = this.project.document()!;
    const [base, shown] = [this.forecasts.base(), this.forecasts.shown()];
    const slowest = (of: typeof base, roundId: string) => {
      const own = new Set(of?.requests.filter((request) => request.roundId === roundId).map(({ id }) => id));
      const means = of?.forecast.requests.flatMap(({ id, meanPeriodMs }) => (own.has(id) ? (meanPeriodMs ?? []) : [])) ?? [];
      return means.length ? Math.max(...means) : null;
    };
    return rounds.map((round) => ({
      round,
      values: routes.filter(({ roundId }) => roundId === round.id).length,
      requests: base?.requests.filter(({ roundId }) => roundId === round.id).length ?? 0,
      reached: changeText(slowest(base, round.id), slowest(shown, round.id)),
    }));
  });

  protected set(before: Round, field: (typeof this.fields)[number], typed: string): void {
    const parsed = Round.safeParse({ ...before, [field]: valueOf(field, typed.trim()) });
    if (!parsed.success) return this.problem.set({ at: before.id + field, message: parsed.error.issues[0]!.message });
    const label = field === 'name' ? `Rename ${before.name}` : `Set the ${words[field]} of ${before.name}`;
    this.commit(label, { entity: 'round', id: before.id, before, after: parsed.data }, before.id + field);
  }

  protected add(): void {
    const { rounds, project } = this.project.document()!;
    const taken = new Set(rounds.map(({ name }) => name));
    let number = rounds.length + 1;
    while (taken.has(`Round ${number}`)) number += 1;
    const round: Round = {
      id: newId(),
      projectId: project.id,
      name: `Round ${number}`,
      periodMs: 1000,
      phaseMs: 0,
      pauseMs: null,
      priority: 5,
    };
    this.commit(`Add ${round.name}`, { entity: 'round', id: round.id, before: null, after: round }, round.id);
  }

  protected drop(before: Round): void {
    this.commit(`Delete ${before.name}`, { entity: 'round', id: before.id, before, after: null }, before.id);
  }

  private commit(label: string, change: Change, at: string): void {
    this.store.commit(label, [change]).subscribe((answer) => {
      this.problem.set(answer.ok ? null : { at, message: answer.problem.message });
      if (answer.ok) this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }
}

/** An empty pause means that the clock releases the round. */
function valueOf(field: string, typed: string): string | number | null {
  if (field === 'name') return typed;
  return field === 'pauseMs' ? numberOrNone(typed) : typedNumber(typed);
}
