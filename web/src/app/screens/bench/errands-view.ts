import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { filter, map, type Observable, of, switchMap } from 'rxjs';
import { CdkDrag, CdkDragHandle, CdkDropList, moveItemInArray } from '@angular/cdk/drag-drop';
import { type FormArray, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { blankErrandStep, comparisonNames, describeErrandStep, type ErrandRun, stepKindNames } from '@plain-envoy/core/errand';
import { Comparison, Errand, type ErrandStepKind } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { controlOf } from '../../parts/controls';
import { timeText } from '../../parts/format';
import { Icon } from '../../parts/icon';
import { PointPick } from '../../parts/point-pick';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { named } from '../../parts/named';
import { changesOf, problemIn, readGroup, schemaValidator, settle, valueIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatExpansionModule } from '@angular/material/expansion';
import { MatMenuModule } from '@angular/material/menu';
import { Unsaved } from '../../parts/unsaved';
import { type ErrandGroup, errandGroup, errandOf, hasPoint, stepGroup, type StepGroup, stepOf } from './errand-group';

/** Stands in where no errand is chosen. */
const none = errandGroup({ id: '', projectId: '', name: '', note: '', trigger: { on: 'hand' }, overlaps: false, steps: [] });
const stepKinds = Object.entries(stepKindNames) as [ErrandStepKind, string][];
const comparisons = asOptions(Comparison.options, (is) => comparisonNames[is]);
const triggers: Option<Errand['trigger']['on']>[] = [
  { value: 'hand', text: 'by hand only' },
  { value: 'edge', text: 'when a bit goes on' },
  { value: 'change', text: 'when a value changes' },
];

/** The numbers that a step asks for, by its kind: the field, what it is called, and what is meant. */
const numbers: Partial<Record<ErrandStepKind, readonly (readonly [field: string, label: string, hint: string])[]>> = {
  wait: [['withinMs', 'At most, ms', '']],
  compare: [['else', 'Else step', 'The step at which it goes on where it is not so; empty: the errand fails']],
  pause: [['ms', 'For, ms', '']],
  repeat: [
    ['from', 'From step', ''],
    ['times', 'Times', ''],
  ],
};

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
    MatExpansionModule,
    MatMenuModule,
    PointPick,
    ReactiveFormsModule,
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
  protected readonly numbers = numbers;
  protected readonly names = stepKindNames;
  protected readonly hasPoint = hasPoint;
  protected readonly errands = computed(() => this.project.document()!.errands);
  protected readonly errandId = linkedSignal<string>(
    () => [this.kept, this.first()].find((kept) => this.errands().some(({ id }) => id === kept)) ?? this.errands()[0]?.id ?? '',
  );
  private kept = '';
  protected readonly chooser = controlOf('');
  private readonly unsaved = inject(Unsaved);
  protected readonly errand = computed(() => this.errands().find(({ id }) => id === this.errandId()) ?? null);
  private readonly check = { schema: Errand, from: (typed: ReturnType<ErrandGroup['getRawValue']>) => errandOf(this.errand()!, typed) };
  protected readonly form = computed(() => {
    const errand = this.errand();
    if (!errand) return none;
    const form = errandGroup(errand);
    form.addValidators(schemaValidator(this.check));
    return form;
  });
  protected readonly steps = computed((): FormArray<StepGroup> => this.form().controls.steps);
  protected readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  private readonly changes = changesOf(() => this.form().events);
  protected readonly isChanged = computed(() => (this.changes(), this.form().dirty));
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
    const ids = this.typed().steps.map(({ pointId }) => this.project.points().get(pointId ?? '')?.deviceId);
    return [...new Set(ids)].filter((id) => id !== undefined);
  });
  /** Its steps in words. */
  protected readonly told = computed(() =>
    this.typed()
      .steps.map((step) => describeErrandStep(stepOf(step), (id) => this.project.points().get(id)?.name ?? 'a point that is gone'))
      .join('; '),
  );

  constructor() {
    effect(() => this.chooser.setValue(this.errandId(), { emitEvent: false }));
    this.chooser.valueChanges
      .pipe(
        switchMap((id) => this.unsaved.mayLeave().pipe(map((may) => (may ? id : this.errandId())))),
        takeUntilDestroyed(),
      )
      .subscribe((id) => this.choose(id));
    this.unsaved.watch(() => `the errand ${this.errand()?.name ?? ''}`, this.form);
    // What sets it off is at first what it works with.
    effect((onCleanup) => {
      const { on, pointId } = this.form().controls.trigger.controls;
      const turning = on.valueChanges.subscribe(() => pointId.value ?? pointId.setValue(this.firstPoint()));
      onCleanup(() => turning.unsubscribe());
    });
    toObservable(this.errandId)
      .pipe(
        switchMap((id) => (id ? this.hands.errandRuns(id) : of(null))),
        takeUntilDestroyed(),
      )
      .subscribe((answer) => this.history.set(answer?.ok ? answer.value : []));
  }

  private choose(id: string): void {
    this.kept = id;
    this.errandId.set(id);
    this.chooser.setValue(id, { emitEvent: false });
  }

  /** Once what was typed for another may go. */
  protected add(): void {
    this.unsaved
      .mayLeave()
      .pipe(filter(Boolean))
      .subscribe(() => this.make());
  }

  private make(): void {
    const { project, points } = this.project.document()!;
    const [point] = points;
    if (!point) return this.editor.say('There is no point yet; make one in Registers.');
    this.kept = newId();
    const made: Errand = {
      id: this.kept,
      projectId: project.id,
      name: 'New errand',
      note: '',
      trigger: { on: 'hand' },
      overlaps: false,
      steps: [blankErrandStep('read', point.id)],
    };
    this.commit(`Make errand ${made.name}`, null, made).subscribe();
  }

  /** Only there is a broadcast. */
  protected isOnSerialLine(pointId: string | null): boolean {
    return this.project.onSerialLines().has(this.project.points().get(pointId ?? '')?.deviceId ?? '');
  }

  protected addStep(kind: ErrandStepKind): void {
    const last = this.typed().steps.findLast((step) => step.pointId !== null);
    this.steps().push(stepGroup(blankErrandStep(kind, last?.pointId ?? this.firstPoint())));
    this.steps().markAsDirty();
  }

  protected dropStep(index: number): void {
    this.steps().removeAt(index);
    this.steps().markAsDirty();
  }

  protected putStep(from: number, to: number): void {
    const steps = this.steps();
    moveItemInArray(steps.controls, from, to);
    steps.updateValueAndValidity();
    steps.markAsDirty();
  }

  protected save(): void {
    this.saving().subscribe();
  }

  protected remove(): void {
    const saved = this.errand();
    if (!saved) return;
    this.form().markAsPristine();
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
      .subscribe((answer) => settle(this.form(), answer));
  }

  /** Tells whether it was saved. */
  private saving(): Observable<boolean> {
    const errand = readGroup(this.form(), this.check);
    return errand ? this.commit(`Change errand ${errand.name}`, this.errand(), errand) : of(false);
  }

  protected stop(runId: string): void {
    this.hands.stopErrand(runId).subscribe((answer) => settle(this.form(), answer));
  }

  private commit(label: string, before: Errand | null, after: Errand | null): Observable<boolean> {
    const id = (after ?? before)!.id;
    return this.store.commit(label, [{ entity: 'errand', id, before, after }]).pipe(
      map((answer) => {
        if (answer.ok) this.form().markAsPristine();
        return settle(this.form(), answer);
      }),
    );
  }

  private firstPoint(): string {
    return this.typed().steps.find(({ pointId }) => pointId !== null)?.pointId ?? this.project.document()!.points[0]!.id;
  }
}
