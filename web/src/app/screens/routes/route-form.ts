import '@plain-envoy/core/formula';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, viewChild } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { type Point, pointLayout, pointWidth, readPoint, Route } from '@plain-envoy/core/model';
import { overflowsOf, valuesAlong } from '@plain-envoy/core/route';
import type { Value } from '@plain-envoy/core/value';
import { Editor } from '../../data/editor';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { foundAt } from '../../parts/form';
import { addressOf } from '../../parts/format';
import { PointPick } from '../../parts/point-pick';
import type { TypedForm } from '../../parts/schema-fields';
import { problemIn, readGroup, refuseIn, schemaValidator, valueIn } from '../../parts/schema-group';
import { Unsaved } from '../../parts/unsaved';
import { stepFrom, StepList } from './step-list';
import { type RouteGroup, routeGroup, routeOf } from './typed-route';
import { Transform, describeStep } from '@plain-envoy/core/steps';
import { checkEnds } from '@plain-envoy/core/checks';
import { Choose, type Option } from '../../parts/choose';
import { named, roundOptions } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

const carries: Option<Route['carry']>[] = [
  { value: 'registers', text: 'the registers as they are' },
  { value: 'value', text: 'the value, as each end writes it' },
];
const triggers: Option<Route['trigger']['on']>[] = [
  { value: 'round', text: 'each time its round comes' },
  { value: 'change', text: 'when it has changed' },
  { value: 'edge', text: 'when a bit goes on' },
  { value: 'start', text: 'once at start' },
];
const releases: Option<NonNullable<Route['release']>['when']>[] = [
  { value: 'before', text: 'before the value' },
  { value: 'after', text: 'after the value' },
];
const losses: Option<Route['loss']['rule']>[] = [
  { value: 'hold', text: 'holds what it has' },
  { value: 'value', text: 'gets another value' },
  { value: 'invalid', text: 'is marked as not valid' },
];

/** Makes a route between two chosen points, or changes one. What keeps it from carrying is said before it is saved. */
@Component({
  selector: 'pe-route-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, PointPick, ReactiveFormsModule, SearchField, StepList, TextField],
  templateUrl: './route-form.html',
  styleUrls: ['./below-panel.scss', './route-form.scss'],
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class RouteForm {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices', 'points', 'onSerialLines');
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  private readonly editor = inject(Editor);
  private readonly live = inject(Live);
  private readonly nameBox = viewChild.required<TextField>('name');

  readonly route = input.required<Route>();
  readonly isNew = input.required<boolean>();
  readonly saved = output<Route>();
  readonly closed = output();
  readonly removed = output();
  readonly turned = output();

  private readonly check = computed(() => {
    const before = this.route();
    return { schema: Route, from: (typed: ReturnType<RouteGroup['getRawValue']>) => routeOf(before, typed) };
  });
  protected readonly form = computed(() => {
    const form = routeGroup(this.route());
    form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  protected readonly rounds = computed(() => this.project.document()!.rounds);
  protected readonly roundOptions = computed(() => roundOptions(this.rounds()));
  protected readonly carrierOptions = computed(() => named(this.carriers()));
  protected readonly carries = carries;
  protected readonly triggers = triggers;
  protected readonly releases = releases;
  protected readonly losses = losses;
  /** Who can carry it. */
  protected readonly carriers = computed(() => this.project.document()!.devices.filter(({ kind }) => kind !== 'field'));
  protected readonly source = computed(() => this.project.points().get(this.route().sourceId));
  protected readonly destination = computed(() => this.project.points().get(this.route().destinationId));
  /** Where a bit may be that triggers or allows it, or a point that a step needs: its two ends, and who carries it. */
  protected readonly nearDevices = computed(() => [
    ...new Set(
      [this.source()?.deviceId, ...this.destinationDevice(), this.typed().carrierId ?? undefined].filter((id) => id !== undefined),
    ),
  ]);
  protected readonly isOnSerialLine = computed(() => this.project.onSerialLines().has(this.destination()?.deviceId ?? ''));
  /** What was found wrong with going to every unit, as it is saved. */
  protected readonly foundOfBroadcast = computed(() => foundAt(this.plan.findings(), this.route().id).get('broadcast') ?? null);
  protected readonly destinationDevice = computed(() => [this.destination()?.deviceId].filter((id) => id !== undefined));
  private readonly chain = computed(() => {
    const source = this.source();
    const destination = this.destination();
    const transforms = this.typed().transforms.map((step) => stepFrom(step as TypedForm));
    if (!source || !destination || transforms.some((step) => !Transform.safeParse(step).success)) return null;
    return { source, destination, carry: this.typed().carry, transforms };
  });
  protected readonly endProblems = computed(() => (this.chain() ? checkEnds(this.chain()!) : []));
  /** What the destination cannot hold, said while the steps are typed. */
  protected readonly limits = computed(() => {
    const chain = this.chain();
    if (!chain || this.endProblems().length) return '';
    return overflowsOf(chain)
      .map(({ side, limit, atSource }) =>
        atSource === null
          ? `${side} ${limit} of ${chain.destination.name}`
          : `${side} ${atSource}${chain.source.unit ? ` ${chain.source.unit}` : ''}`,
      )
      .join(' and ');
  });
  private readonly readings = rowsFor(this.live.points, () => [this.route().sourceId]);
  /** What the steps make of the value that the source has now. */
  protected readonly example = computed(() => {
    const chain = this.chain();
    const words = this.readings().get(this.route().sourceId)?.words;
    if (!chain || chain.carry !== 'value' || !words) return null;
    const read = readPoint(words, chain.source);
    return read.ok ? valuesAlong(read.value.value, chain.transforms) : null;
  });
  protected readonly examples = computed(() => {
    const example = this.example();
    const steps = this.chain()?.transforms ?? [];
    return steps.map((step, index) => {
      const value = example?.values[index + 1];
      const text = value === undefined ? '' : `${brief(example!.values[index]!)} → ${brief(value)}`;
      const isHere = example?.values.length === index + 1 && !!example.problem;
      return { text: isHere ? example.problem! : text || describeStep(step), problem: isHere };
    });
  });
  constructor() {
    inject(Unsaved).watch(() => (this.isNew() ? 'the new route' : `the route ${this.route().name}`), this.form);
    effect(() => {
      this.route();
      if (this.isNew()) setTimeout(() => this.nameBox().focus());
    });
  }

  protected endText(point: Point | undefined): string {
    const device = this.project.devices().get(point?.deviceId ?? '');
    return point ? `${point.name}, ${device?.name} ${addressOf(point, device)}` : 'a point that is gone';
  }

  protected typeText(point: Point | undefined): string {
    if (!point) return '';
    const layout = pointLayout(point);
    return layout ? `${layout.type}${pointWidth(point) > 1 ? ` ${layout.order}` : ''}` : 'bit';
  }

  /** What was typed goes with it. */
  protected remove(): void {
    this.form().markAsPristine();
    this.removed.emit();
  }

  protected save(): void {
    const before = this.route();
    const after = readGroup(this.form(), this.check());
    if (!after || this.endProblems().length) return;
    const label = `${this.isNew() ? 'Make' : 'Change'} route ${after.name}`;
    this.store.commit(label, [{ entity: 'route', id: after.id, before: this.isNew() ? null : before, after }]).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      this.form().markAsPristine();
      this.editor.say(`Saved: ${after.name}`);
      this.saved.emit(after);
    });
  }
}

function brief(value: Value): string {
  return typeof value === 'number' ? String(Number(value.toPrecision(7))) : Array.isArray(value) ? `bits ${value.join(' ')}` : value;
}
