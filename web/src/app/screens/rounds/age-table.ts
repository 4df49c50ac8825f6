import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { isLate } from '@plain-envoy/core/forecast';
import { type Change, Route, type Round } from '@plain-envoy/core/model';
import { Editor } from '../../data/editor';
import { Forecasts } from '../../data/forecasts';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { textControl } from '../../parts/controls';
import { numberOrNone } from '../../parts/form';
import { settle, readGroup, schemaValidator } from '../../parts/schema-group';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { changeText, msText, worstOf } from './round-words';
import { TextField } from '../../parts/text-field';
import { MatChipsModule } from '@angular/material/chips';
import { MatMenuModule } from '@angular/material/menu';

interface Row {
  id: string;
  name: string;
  from: string;
  to: string;
  round: string;
  mean: string;
  worst: string;
  seenMean: string;
  seenWorst: string;
  limit: string;
  isLate: boolean;
  verdict: string;
  /** How much of its limit its age takes up; 0 where it has none. */
  part: number;
}

/** Each value: how old it is at the destination, and how old it may be. Chosen ones move to another round, or get a limit. */
@Component({
  selector: 'pe-age-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatChipsModule, MatMenuModule, ReactiveFormsModule, Table, TextField],
  template: `<div class="tools">
      <span class="quiet">Rounds</span>
      <mat-chip-listbox aria-label="Only of one round" [value]="roundId()" (change)="roundId.set($event.value ?? null)">
        @for (round of rounds(); track round.id) {
          <mat-chip-option
            class="round"
            [value]="round.id"
            (dragover)="$event.preventDefault()"
            (drop)="$event.preventDefault(); move(round)"
            >{{ round.name }} <span class="quiet mono">{{ counts().get(round.id) ?? 0 }}</span></mat-chip-option
          >
        }
      </mat-chip-listbox>
      <span class="spread"></span>
      <span class="quiet">{{ chosen().size }} chosen</span>
      <button mat-stroked-button type="button" name="move" [disabled]="!chosen().size" [matMenuTriggerFor]="roundMenu">move to …</button>
      <mat-menu #roundMenu="matMenu">
        @for (round of rounds(); track round.id) {
          <button mat-menu-item [attr.data-round]="round.id" (click)="move(round)">{{ round.name }}</button>
        }
      </mat-menu>
      <form [formGroup]="form" (ngSubmit)="limit()">
        <pe-text name="limit" aria="Limit of their age, ms" placeholder="limit, ms" numeric formControlName="maxAgeMs" />
        <button mat-button type="submit" [disabled]="!chosen().size">Set limit</button>
      </form>
    </div>
    <pe-table
      label="Ages of values"
      scrolls
      multiple
      lifts
      [columns]="columns()"
      [rows]="rows()"
      [idOf]="idOf"
      nothing="No values here."
      [(chosen)]="chosenRows"
    />`,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      min-height: 0;
    }
    .tools,
    form {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    .tools {
      padding: 0 0 6px;
    }
    .spread {
      flex: 1;
    }
  `,
})
export class AgeTable {
  private readonly forecasts = atEdge(inject(Forecasts), 'base', 'shown');
  private readonly live = inject(Live);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices', 'points', 'rounds');
  private readonly editor = inject(Editor);
  /** The routes of the line that is looked at. */
  readonly routeIds = input.required<ReadonlySet<string>>();
  readonly measured = input.required<boolean>();

  protected readonly roundId = signal<string | null>(null);
  protected readonly chosenRows = signal<ReadonlySet<string> | null>(new Set());
  protected readonly chosen = computed(() => this.chosenRows() ?? new Set<string>());
  private readonly check = {
    schema: Route.pick({ maxAgeMs: true }),
    from: ({ maxAgeMs }: { maxAgeMs: string }) => ({ maxAgeMs: numberOrNone(maxAgeMs) }),
  };
  protected readonly form = new FormGroup({ maxAgeMs: textControl('') }, schemaValidator(this.check));
  protected readonly rounds = computed(() => this.project.document()!.rounds);
  private readonly here = computed(() => this.project.document()!.routes.filter(({ id }) => this.routeIds().has(id)));
  private readonly states = rowsFor(this.live.routes, () => (this.measured() ? this.here().map(({ id }) => id) : []));
  protected readonly counts = computed(() => {
    const counts = new Map<string, number>();
    for (const { roundId } of this.here()) counts.set(roundId, (counts.get(roundId) ?? 0) + 1);
    return counts;
  });

  /** Those past their limit first, then by how near they are to it. */
  protected readonly rows = computed((): Row[] => {
    const [base, shown] = [this.forecasts.base(), this.forecasts.shown()];
    const before = new Map(base?.forecast.routes.map((row) => [row.id, row]));
    const after = new Map(shown?.forecast.routes.map((row) => [row.id, row]));
    const only = this.roundId();
    return this.here()
      .filter((route) => !only || route.roundId === only)
      .flatMap((route) => {
        const now = after.get(route.id);
        if (!now) return [];
        const was = before.get(route.id) ?? now;
        const seen = this.states().get(route.id)?.age;
        const late = isLate(now);
        return {
          id: route.id,
          name: route.name,
          from: this.deviceOf(route.sourceId),
          to: this.deviceOf(route.destinationId),
          round: this.project.rounds().get(route.roundId)?.name ?? '',
          mean: changeText(was.age?.meanMs, now.age?.meanMs),
          worst: changeText(worstOf(was.age), worstOf(now.age)),
          seenMean: seen ? msText(seen.meanMs) : '',
          seenWorst: seen ? msText(seen.worstMs) : '',
          limit: now.limitMs ? msText(now.limitMs) : '',
          isLate: late,
          verdict: late ? 'past its limit' : now.limitMs ? 'kept' : '',
          part: now.limitMs ? (now.age?.worstMs ?? Infinity) / now.limitMs : 0,
        };
      })
      .sort((a, b) => b.part - a.part);
  });

  protected readonly idOf = ({ id }: Row): string => id;
  protected readonly columns = computed((): readonly Column<Row>[] => {
    const figure = (name: 'mean' | 'worst' | 'seenMean' | 'seenWorst' | 'limit', head: string) => ({
      ...{ name, head, text: (row: Row) => row[name], kind: 'mono number' },
      ...(name === 'worst' ? { classOf: ({ isLate }: Row) => (isLate ? 'bad' : '') } : {}),
    });
    return [
      { name: 'name', head: 'Value', text: ({ name }) => name, more: ({ name }) => name, kind: 'cut name', by: ({ name }) => name },
      { name: 'from', head: 'From', text: ({ from }) => from, by: ({ from }) => from },
      { name: 'to', head: 'To', text: ({ to }) => to, by: ({ to }) => to },
      { name: 'round', head: 'Round', text: ({ round }) => round, by: ({ round }) => round },
      ...[figure('mean', 'age, mean'), figure('worst', 'worst')],
      ...(this.measured() ? [figure('seenMean', 'measured mean'), figure('seenWorst', 'worst')] : []),
      figure('limit', 'limit'),
      {
        name: 'verdict',
        head: '',
        text: ({ verdict }) => verdict,
        classOf: ({ isLate, limit }) => (isLate ? 'bad' : limit ? 'good' : ''),
        by: ({ part }) => part,
      },
    ];
  });

  protected move(round: Round): void {
    const moving = this.here().filter(({ id, roundId }) => this.chosen().has(id) && roundId !== round.id);
    this.commit(
      `Move ${named(moving)} to ${round.name}`,
      moving.map((route) => ({ ...route, roundId: round.id })),
    );
  }

  protected limit(): void {
    const asked = readGroup(this.form, this.check);
    if (!asked) return;
    const limited = this.here().filter(({ id }) => this.chosen().has(id));
    this.commit(
      `Limit the age of ${named(limited)}`,
      limited.map((route) => ({ ...route, ...asked })),
    );
  }

  private commit(label: string, after: readonly Route[]): void {
    if (after.length === 0) return;
    const before = new Map(this.project.document()!.routes.map((route) => [route.id, route]));
    const changes = after.map((route): Change => ({ entity: 'route', id: route.id, before: before.get(route.id)!, after: route }));
    this.store.commit(label, changes).subscribe((answer) => {
      if (settle(this.form, answer)) this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }

  private deviceOf(pointId: string): string {
    return this.project.devices().get(this.project.points().get(pointId)?.deviceId ?? '')?.name ?? '';
  }
}

function named(routes: readonly Route[]): string {
  return routes.length === 1 ? routes[0]!.name : `${routes.length} values`;
}
