import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import { canBeSwept, foundBeside, type FoundRow, foundTally, type KeptObserved, takeAsDesigned } from '@plain-envoy/core/as-found';
import type { RevisionHistory } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Target } from '@plain-envoy/core/plan';
import { of, switchMap } from 'rxjs';
import { AsFound } from '../../data/as-found';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { Revisions } from '../../data/revisions';
import { atEdge } from '../../data/state';
import { Choose, type Option } from '../../parts/choose';
import { dateText } from '../../parts/format';
import { Running } from '../../parts/running';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TargetPick } from '../../parts/target';

const NOW = 'now';

/** A device or a line, what was seen of it last, and how that stands beside the design. */
interface Thing {
  id: string;
  name: string;
  kind: 'device' | 'line';
  seen: KeptObserved | null;
  rows: FoundRow[];
}

const worstFirst = ['differs', 'unknown', 'left open'] as const;
const inks: Readonly<Record<FoundRow['verdict'], string>> = { same: 'good', differs: 'bad', unknown: 'stale', 'left open': '' };
const verdictWords: Readonly<Record<FoundRow['verdict'], string>> = {
  same: 'the same',
  differs: 'differs',
  unknown: 'not known',
  'left open': 'not designed',
};

/** What devices and lines say of themselves today, thing by thing beside what a revision says of them. */
@Component({
  selector: 'pe-found-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, Choose, MatButtonModule, MatCheckboxModule, RouterLink, Running, Table, TargetPick],
  templateUrl: './found-view.html',
  styleUrls: ['./handover.scss', './variables-view.scss', './losses-view.scss', './found-view.scss'],
})
export class FoundView {
  private readonly looking = inject(AsFound);
  private readonly revisions = inject(Revisions);
  private readonly store = inject(ProjectStore);
  private readonly editor = inject(Editor);
  private readonly project = atEdge(this.store, 'document', 'revision');
  protected readonly looks = atEdge(this.looking, 'seen', 'progress', 'problem', 'isRunning');
  readonly of = input.required<string>();

  protected readonly on = signal<Target>('stand-ins');
  protected readonly asks =
    'The real devices of this project would be asked who they are and what their registers hold, up to eight at a time. Nothing is written, and it ends by itself.';
  protected readonly sweeps = signal(false);
  protected readonly onlyOther = signal(true);
  protected readonly problem = signal<string | null>(null);

  private readonly history = signal<RevisionHistory | null>(null);
  protected readonly beside = signal<string>(NOW);
  protected readonly besides = computed((): Option<string>[] => [
    { value: NOW, text: `now, revision ${this.project.revision()}` },
    ...(this.history()?.names ?? []).map(({ revision, name }) => ({ value: String(revision), text: `${name}, revision ${revision}` })),
  ]);
  /** The project as it was at the revision that is chosen; null for now, and until it has come. */
  private readonly older = signal<ProjectDocument | null>(null);
  private readonly designed = computed(() => (this.beside() === NOW ? this.project.document() : this.older()));
  /** What was laid beside this design already, so that each that is seen costs no more than itself. */
  private readonly laid = computed(() => (this.designed(), new Map<KeptObserved, FoundRow[]>()));

  protected readonly things = computed((): Thing[] => {
    const document = this.designed();
    if (!document) return [];
    const [seen, laid] = [this.looks.seen(), this.laid()];
    const thing = (kind: Thing['kind'], { id, name }: { id: string; name: string }): Thing => {
      const last = seen.get(`${this.on()} ${id}`) ?? null;
      const rows = last ? (laid.get(last) ?? foundBeside(document, id, last.body)) : [];
      if (last) laid.set(last, rows);
      return { id, name, kind, seen: last, rows };
    };
    return [
      ...document.devices.map((device) => thing('device', device)),
      ...document.lines.filter(canBeSwept).map((line) => thing('line', line)),
    ];
  });
  private readonly chosenId = linkedSignal<string | null>(() => (this.of(), null));
  protected readonly chosen = computed(() => this.things().find(({ id }) => id === this.chosenId()) ?? this.things()[0] ?? null);
  protected readonly chosenIds = computed(() => new Set(this.chosen() ? [this.chosen()!.id] : []));
  protected readonly idOf = ({ id }: { id: string }): string => id;
  protected readonly columns: readonly Column<Thing>[] = [
    { name: 'name', head: 'Device or line', kind: 'strong', text: ({ name }) => name, by: ({ name }) => name },
    {
      ...{ name: 'state', head: 'As found', text: (thing: Thing) => this.stateOf(thing) },
      classOf: (thing) => (thing.rows.some(({ verdict }) => verdict === 'differs') ? 'problem' : ''),
      by: (thing) => -thing.rows.filter(({ verdict }) => verdict === 'differs').length,
    },
    {
      ...{ name: 'at', head: 'Seen', kind: 'whole', text: ({ seen }: Thing) => (seen ? dateText(seen.atMs) : '') },
      by: ({ seen }) => seen?.atMs ?? 0,
    },
  ];
  protected readonly shown = computed(() => {
    const rows = this.chosen()?.rows ?? [];
    return this.onlyOther() ? worstFirst.flatMap((worse) => rows.filter(({ verdict }) => verdict === worse)) : rows;
  });
  protected readonly rowColumns = computed((): readonly Column<FoundRow>[] => [
    { name: 'what', head: 'What', kind: 'strong', text: ({ what }) => what },
    { name: 'designed', head: 'Designed', text: ({ designed }) => designed },
    { name: 'found', head: 'Found', text: ({ found }) => found },
    { name: 'verdict', head: '', kind: 'whole', text: ({ verdict }) => verdictWords[verdict], classOf: ({ verdict }) => inks[verdict] },
    ...(this.takeable().length ? [{ name: 'does', head: '' }] : []),
  ]);
  /** What of the chosen device the design could have as it was found. */
  protected readonly takeable = computed(() => (this.chosen()?.rows ?? []).filter(({ takes }) => takes !== null));

  constructor() {
    this.looking.load();
    toObservable(this.project.revision)
      .pipe(
        switchMap(() => this.revisions.list()),
        takeUntilDestroyed(),
      )
      .subscribe((answer) => {
        if (answer.ok) this.history.set(answer.value);
        else this.problem.set(answer.problem.message);
      });
    toObservable(this.beside)
      .pipe(
        switchMap((beside) => {
          this.older.set(null);
          return beside === NOW ? of(null) : this.revisions.at(Number(beside));
        }),
        takeUntilDestroyed(),
      )
      .subscribe((answer) => {
        this.problem.set(answer?.ok === false ? answer.problem.message : null);
        if (answer?.ok) this.older.set(answer.value.document);
      });
  }

  protected look(thing: Thing | null): void {
    const revision = this.beside() === NOW ? null : Number(this.beside());
    this.looking.look({ on: this.on(), revision, ids: thing && [thing.id], sweeps: this.sweeps() });
  }

  protected stop(): void {
    this.looking.stop();
  }

  protected choose({ id }: Thing): void {
    this.chosenId.set(id);
  }

  protected stateOf({ seen, rows }: Thing): string {
    return seen ? foundTally(rows) : '';
  }

  /** `Seen on the stand-ins at 14:05 by A. Tester, where revision 12 has it.` */
  protected seenText({ revision, atMs, by, body }: KeptObserved): string {
    const who = by ? `, by ${by}` : '';
    return `Seen ${body.on === 'real' ? 'on the real plant' : 'on the stand-ins'}, ${dateText(atMs)}${who}, where revision ${revision} has it.`;
  }

  /** What was found becomes the design of now, as one edit. */
  protected take(rows: readonly FoundRow[]): void {
    const { id, name } = this.chosen()!;
    const changes = takeAsDesigned(this.store.current!, id, rows);
    if (changes.length === 0) return this.editor.say('The project says so already.');
    const label = rows.length === 1 ? `${name}: ${rows[0]!.what} as it was found` : `${name} as it was found`;
    this.store.commit(label, changes).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }
}
