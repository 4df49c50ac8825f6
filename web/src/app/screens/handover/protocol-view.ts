import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import {
  type ProtocolRow,
  results,
  Signing,
  type SignedState,
  type Stage,
  stages,
  stateAt,
  stepKey,
  tallyOf,
} from '@plain-envoy/core/acceptance';
import { Acceptance } from '../../data/acceptance';
import { Editor } from '../../data/editor';
import { Session } from '../../data/session';
import { atEdge } from '../../data/state';
import { asOptions, Choose } from '../../parts/choose';
import { controlOf, textControl } from '../../parts/controls';
import { momentText } from '../../parts/format';
import { problemIn, readGroup, refuseIn, schemaValidator } from '../../parts/schema-group';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';

/** So many of what must be seen are shown at first. */
const SEEN = 8;

interface Row {
  id: string;
  number: number;
  row: ProtocolRow;
  state: SignedState;
}

/** The steps of acceptance at the works or on site, one after the other: what is done, what must be seen, and who says how it came out. */
@Component({
  selector: 'pe-protocol-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ReactiveFormsModule, RouterLink, Table, TextField],
  templateUrl: './protocol-view.html',
  styleUrls: ['./handover.scss', './variables-view.scss', './column.scss', './protocol-view.scss'],
})
export class ProtocolView {
  private readonly acceptance = inject(Acceptance);
  protected readonly protocol = atEdge(this.acceptance, 'rows', 'problem');
  private readonly session = atEdge(inject(Session), 'name', 'called');
  private readonly editor = inject(Editor);
  readonly of = input.required<string>();

  protected readonly stage = signal<Stage>('works');
  protected readonly stageOptions = stages.map(({ stage, label }) => ({ value: stage, text: label }));
  protected readonly only = signal<'all' | 'open'>('all');
  protected readonly onlyOptions = [
    { value: 'all', text: 'All steps' },
    { value: 'open', text: 'Those still to be done' },
  ] as const;
  private readonly all = computed(() =>
    (this.protocol.rows() ?? []).map((row, index): Row => ({
      id: stepKey(row.step),
      number: index + 1,
      row,
      state: stateAt(row, this.stage()),
    })),
  );
  protected readonly rows = computed(() => (this.only() === 'all' ? this.all() : this.all().filter(({ state }) => isToBeDone(state))));
  protected readonly tally = computed(() => tallyOf(this.protocol.rows() ?? [], this.stage()));
  private readonly chosenId = linkedSignal<string | null>(() => (this.of(), null));
  protected readonly chosen = computed(() => this.all().find(({ id }) => id === this.chosenId()) ?? this.rows()[0] ?? null);
  protected readonly chosenIds = computed(() => new Set(this.chosen() ? [this.chosen()!.id] : []));
  protected readonly signed = computed(() => this.chosen()?.row.signed[this.stage()] ?? null);
  /** Which step is chosen, whatever is edited elsewhere meanwhile. */
  private readonly key = computed(() => this.chosen()?.id ?? null);
  private readonly isWhole = linkedSignal(() => (this.key(), false));
  private readonly seen = computed(() => this.chosen()?.row.step.sees[this.stage()] ?? []);
  protected readonly sees = computed(() => {
    const sees = this.seen();
    return this.isWhole() ? sees : sees.slice(0, SEEN);
  });
  protected readonly more = computed(() => this.seen().length - this.sees().length);
  protected readonly resultOptions = asOptions(results, (result) => result);
  /** The name stays from one step to the next. */
  private name: string | null = null;
  protected readonly form = computed(() => {
    this.key();
    this.stage();
    return untracked(() => this.group());
  });
  protected readonly formProblem = problemIn(this.form);
  protected readonly moment = (at: string): string => momentText(Date.parse(at));
  protected readonly idOf = ({ id }: Row): string => id;
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'number', head: 'No.', kind: 'number narrow', text: ({ number }) => number, by: ({ number }) => number },
    { name: 'step', head: 'Step', kind: 'strong long', text: ({ row }) => row.step.title },
    {
      ...{ name: 'state', head: 'Result', text: ({ state }) => (state === 'open' ? '' : state) },
      classOf: ({ state }) => (state === 'failed' || state === 'changed since' ? 'problem' : ''),
      by: ({ state }) => state,
    },
    { name: 'name', head: 'Name', text: ({ row }) => row.signed[this.stage()]?.name ?? '' },
  ];

  constructor() {
    this.acceptance.load();
    inject(Unsaved).watch(() => 'what is to be signed', this.form);
  }

  protected choose(row: Row): void {
    this.chosenId.set(row.id);
  }

  protected showAll(): void {
    this.isWhole.set(true);
  }

  /** Where what a step is about is worked on. */
  protected link({ sort, of }: ProtocolRow['step']): { path: string; query: Record<string, string>; text: string } | null {
    if (sort === 'route') return { path: '/routes', query: { route: of }, text: 'The route' };
    return sort === 'loss' ? { path: '/handover', query: { view: 'losses' }, text: 'What is lost when' } : null;
  }

  protected sign(): void {
    const form = this.form();
    const chosen = this.chosen();
    const signing = chosen && readGroup(form, { schema: Signing, from: (typed: Typed) => this.wanted(typed) });
    if (!signing) return;
    // Signed, it may not be among those that are shown any more.
    const after = this.rows().slice(this.rows().findIndex(({ id }) => id === chosen.id) + 1);
    const next = after.find(({ state }) => isToBeDone(state)) ?? after[0];
    this.acceptance.sign(signing).subscribe((answer) => {
      if (!answer.ok) return refuseIn(form, answer.problem);
      this.name = signing.name;
      form.markAsPristine();
      this.editor.say(`Step ${chosen.number}: ${signing.result}.`);
      if (next) this.chosenId.set(next.id);
    });
  }

  private wanted({ result, note, name }: Typed): unknown {
    const { sort, of, which } = this.chosen()!.row.step;
    return { sort, of, which, stage: this.stage(), result, note, name };
  }

  private group() {
    const form = new FormGroup({
      result: controlOf<(typeof results)[number]>('passed'),
      note: textControl(''),
      name: textControl(this.name ?? this.session.name() ?? this.session.called() ?? ''),
    });
    form.addValidators(schemaValidator({ schema: Signing, from: (typed: Typed) => this.wanted(typed) }));
    return form;
  }
}

type Typed = { result: (typeof results)[number]; note: string; name: string };

function isToBeDone(state: SignedState): boolean {
  return state === 'open' || state === 'changed since' || state === 'failed';
}
