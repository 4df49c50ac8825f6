import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { filter, map, type Observable, of, switchMap } from 'rxjs';
import { CdkDrag, CdkDragHandle, CdkDropList, moveItemInArray } from '@angular/cdk/drag-drop';
import { MatButtonModule } from '@angular/material/button';
import { blankErrandStep, comparisonNames, describeErrandStep, type ErrandRun, stepKindNames } from '@plain-envoy/core/errand';
import { Comparison, Errand, type ErrandStep, type ErrandStepKind } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { typedNumber } from '../../parts/form';
import { timeText } from '../../parts/format';
import { Icon } from '../../parts/icon';
import { PointPick } from '../../parts/point-pick';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatMenuModule } from '@angular/material/menu';

const stepKinds = Object.entries(stepKindNames) as [ErrandStepKind, string][];
const comparisons = asOptions(Comparison.options, (is) => comparisonNames[is]);
const triggers: Option<Errand['trigger']['on']>[] = [
  { value: 'hand', text: 'by hand only' },
  { value: 'edge', text: 'when a bit goes on' },
  { value: 'change', text: 'when a value changes' },
];

/** Ordered exchanges with a check: their steps, what sets them off, and how each run of them went. */
@Component({
  selector: 'pe-errands-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CdkDrag,
    CdkDragHandle,
    CdkDropList,
    Choose,
    Icon,
    MatButtonModule,
    MatCheckboxModule,
    MatMenuModule,
    PointPick,
    SearchField,
    TextField,
  ],
  templateUrl: './errands-view.html',
  styleUrls: ['./view.scss', './errands-view.scss'],
})
export class ErrandsView {
  /** The errand that is looked at as long as nobody has chosen another. */
  readonly first = input<string>();
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'points', 'onSerialLines');
  private readonly editor = inject(Editor);
  private readonly hands = inject(Hands);
  protected readonly live = atEdge(inject(Live), 'errandRuns', 'running');
  protected readonly time = timeText;

  protected readonly stepKinds = stepKinds;
  protected readonly comparisons = comparisons;
  protected readonly triggers = triggers;
  protected readonly errandOptions = computed(() => named(this.errands()));
  /** Numbers as they are typed, by step and field: what is no number stays as it is. */
  private readonly typedNumbers = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly names = stepKindNames;
  protected readonly problems = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly errands = computed(() => this.project.document()!.errands);
  protected readonly errandId = linkedSignal<string>(
    () => [this.kept, this.first()].find((kept) => this.errands().some(({ id }) => id === kept)) ?? this.errands()[0]?.id ?? '',
  );
  private kept = '';
  private readonly saved = computed(() => this.errands().find(({ id }) => id === this.errandId()) ?? null);
  /** As it is typed. */
  protected readonly errand = linkedSignal<Errand | null>(() => this.saved());
  protected readonly isChanged = computed(() => JSON.stringify(this.errand()) !== JSON.stringify(this.saved()));
  private readonly history = signal<readonly ErrandRun[]>([]);
  protected readonly runs = computed(() => {
    const own = [...this.live.errandRuns().values()].filter((run) => run.errandId === this.errandId());
    const known = new Set(own.map(({ id }) => id));
    return [...own, ...this.history().filter(({ id }) => !known.has(id))].sort((a, b) => b.atMs - a.atMs).slice(0, 30);
  });
  protected readonly running = computed(() => this.runs().find(({ state }) => state === 'runs') ?? null);
  protected readonly openRunId = linkedSignal<string | null>(() => this.runs()[0]?.id ?? null);
  /** Devices that it works with already come first. */
  protected readonly near = computed(() => {
    const ids = (this.errand()?.steps ?? []).flatMap((step) =>
      'pointId' in step ? [this.project.points().get(step.pointId)?.deviceId] : [],
    );
    return [...new Set(ids)].filter((id) => id !== undefined);
  });
  protected readonly rest = computed(() =>
    [...this.problems()]
      .filter(([path]) => !path.startsWith('steps.') && path !== 'name')
      .map(([, text]) => text)
      .join(' '),
  );

  constructor() {
    toObservable(this.errandId)
      .pipe(
        switchMap((id) => (id ? this.hands.errandRuns(id) : of(null))),
        takeUntilDestroyed(),
      )
      .subscribe((answer) => this.history.set(answer?.ok ? answer.value : []));
  }

  protected choose(id: string): void {
    this.kept = id;
    this.errandId.set(id);
    this.typedNumbers.set(new Map());
    this.problems.set(new Map());
  }

  protected text(step: ErrandStep): string {
    return describeErrandStep(step, (id) => this.project.points().get(id)?.name ?? 'a point that is gone');
  }

  protected add(): void {
    const { project, points } = this.project.document()!;
    const [point] = points;
    if (!point) return this.problems.set(new Map([['', 'There is no point yet; make one in Registers.']]));
    this.kept = newId();
    const steps: ErrandStep[] = [blankErrandStep('read', point.id)];
    const made: Errand = {
      id: this.kept,
      projectId: project.id,
      name: 'New errand',
      note: '',
      trigger: { on: 'hand' },
      overlaps: false,
      steps,
    };
    this.commit(`Make errand ${made.name}`, null, made).subscribe();
  }

  protected type(fields: Partial<Errand>): void {
    this.errand.update((errand) => errand && { ...errand, ...fields });
  }

  protected turnTrigger(on: Errand['trigger']['on']): void {
    const [first] = this.errand()!.steps.flatMap((step) => ('pointId' in step ? [step.pointId] : []));
    const pointId = first ?? this.project.document()!.points[0]!.id;
    this.type({ trigger: on === 'hand' ? { on } : { on, pointId } });
  }

  /** Only there is a broadcast. */
  protected isOnSerialLine(pointId: string): boolean {
    return this.project.onSerialLines().has(this.project.points().get(pointId)?.deviceId ?? '');
  }

  protected typeStep(index: number, fields: object): void {
    this.type({ steps: this.errand()!.steps.map((step, at) => (at === index ? ({ ...step, ...fields } as ErrandStep) : step)) });
  }

  protected typeNumber(index: number, field: string, text: string): void {
    this.typedNumbers.update((typed) => new Map(typed).set(`${index} ${field}`, text));
    this.typeStep(index, { [field]: field === 'else' && text.trim() === '' ? null : typedNumber(text) });
  }

  protected numberOf(index: number, field: string, value: number | null): string {
    return this.typedNumbers().get(`${index} ${field}`) ?? String(value ?? '');
  }

  protected addStep(kind: ErrandStepKind): void {
    const steps = this.errand()!.steps;
    const last = steps.findLast((step) => 'pointId' in step);
    const pointId = last && 'pointId' in last ? last.pointId : this.project.document()!.points[0]!.id;
    this.type({ steps: [...steps, blankErrandStep(kind, pointId)] });
  }

  protected dropStep(index: number): void {
    this.typedNumbers.set(new Map());
    this.type({ steps: this.errand()!.steps.filter((_, at) => at !== index) });
  }

  protected putStep(from: number, to: number): void {
    this.typedNumbers.set(new Map());
    const steps = [...this.errand()!.steps];
    moveItemInArray(steps, from, to);
    this.type({ steps });
  }

  protected problem(path: string): string | null {
    return this.problems().get(path) ?? null;
  }

  protected save(): void {
    this.saving().subscribe();
  }

  protected remove(): void {
    const saved = this.saved();
    if (!saved) return;
    this.commit(`Delete errand ${saved.name}`, saved, null).subscribe((isDone) => {
      if (isDone) this.editor.say(`Deleted: ${saved.name}. Undo with Ctrl+Z.`);
    });
  }

  /** As it is typed: what is not saved yet is saved first. */
  protected run(): void {
    const isSaved = this.isChanged() ? this.saving() : of(true);
    isSaved
      .pipe(
        filter(Boolean),
        switchMap(() => this.hands.runErrand(this.errandId())),
      )
      .subscribe((answer) => this.problems.set(answer.ok ? new Map() : new Map([['', answer.problem.message]])));
  }

  /** Tells whether it was saved. */
  private saving(): Observable<boolean> {
    const parsed = Errand.safeParse(this.errand());
    if (parsed.success) return this.commit(`Change errand ${parsed.data.name}`, this.saved(), parsed.data);
    this.problems.set(new Map(parsed.error.issues.map(({ path, message }) => [path.join('.'), message])));
    return of(false);
  }

  protected stop(runId: string): void {
    this.hands.stopErrand(runId).subscribe((answer) => {
      if (!answer.ok) this.problems.set(new Map([['', answer.problem.message]]));
    });
  }

  private commit(label: string, before: Errand | null, after: Errand | null): Observable<boolean> {
    const id = (after ?? before)!.id;
    return this.store.commit(label, [{ entity: 'errand', id, before, after }]).pipe(
      map((answer) => {
        this.problems.set(answer.ok ? new Map() : new Map([['', answer.problem.message]]));
        return answer.ok;
      }),
    );
  }
}
