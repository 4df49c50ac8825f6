import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, output } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { converterOf, farLineOf } from '@plain-envoy/core/converter';
import { standardName } from '@plain-envoy/core/media';
import { blankPoint, type Change, isSame, type Point } from '@plain-envoy/core/model';
import type { Outcome } from '@plain-envoy/core/outcome';
import { commands, type EventPlace, type EventSort, eventSorts, PointPlace, stationTold } from '@plain-envoy/core/place';
import { canBeSaid } from '@plain-envoy/core/telecontrol-line';
import { pointTypes } from '@plain-envoy/core/types';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { focusViewOnOpen } from '../../parts/focus';
import { type Issue, issuesValidator, problemIn, refuseIn } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import { blankEvent, eventGroup, eventsGroup, eventTyped, type TypedEvents } from './events-form';
import { keepPoints } from './kept-points';
import { MapState } from './map-state';

type Told = (typeof stationTold)[number];

/** The points of a telecontrol station: what each is, by which index, when it is told, and how it is commanded. */
@Component({
  selector: 'pe-events-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, TextField],
  templateUrl: './events-view.html',
  styleUrls: ['./wide-view.scss', './telegrams-view.scss'],
  styles: `
    .points {
      display: flex;
      flex: 1;
      flex-direction: column;
      min-height: 0;
    }
    .points > button {
      align-self: flex-start;
    }
    .scroll {
      padding-top: 8px;
    }
    .row > mat-checkbox {
      flex: none;
      width: 132px;
      align-self: center;
    }
    .row > .rest {
      flex: 0.7;
    }
    .row > .said {
      flex: 1.4;
      align-self: center;
      margin-right: 140px;
    }
  `,
})
export class EventsView {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  readonly closed = output();

  protected readonly sorts = eventSorts.map(({ name, label }): Option<EventSort> => ({ value: name, text: label }));
  protected readonly types = asOptions(pointTypes.filter((type) => canBeSaid({ type })));
  protected readonly parts: Option<EventPlace['part']>[] = [
    { value: 'value', text: 'value' },
    { value: 'good', text: 'quality' },
  ];
  protected readonly commands = commands;

  private readonly own = computed(() => this.project.document()!.points.filter(({ deviceId }) => deviceId === this.state.deviceId()), {
    equal: isSame,
  });
  private readonly points = computed(() => this.own().filter(({ place }) => place.kind === 'event'));
  protected readonly form = computed(() => {
    const form = eventsGroup(this.points());
    form.addValidators(issuesValidator((typed: TypedEvents) => this.issuesOf(typed)));
    return form;
  });
  protected readonly problem = problemIn(this.form);
  /** What is not told of the link yet. */
  protected readonly untold = computed(() =>
    stationTold.filter(({ name }) => !this.own().some(({ place }) => place.kind === 'stationState' && place.state === name)),
  );
  protected readonly tells = linkedSignal<string, ReadonlySet<string>>({
    source: () => this.state.deviceId(),
    computation: () => new Set(['connected']),
  });

  private readonly line = computed(() => {
    const line = farLineOf(this.project.document()!, this.state.deviceId());
    return line?.kind === 'telecontrol' ? line : null;
  });
  protected readonly is1815 = computed(() => this.line()?.standard === 'ieee1815');
  private readonly asks = computed(() =>
    this.project
      .document()!
      .ports.some((port) => port.deviceId === this.state.deviceId() && port.kind === 'telecontrol' && port.role === 'asks'),
  );
  protected readonly where = computed(() => {
    const line = this.line();
    const before = converterOf(this.project.document()!, this.state.deviceId());
    if (!line) return 'This device is on no telecontrol line.';
    const who = this.asks() ? 'the control station' : 'an outstation';
    return `It is ${who} of ${line.name}, by ${standardName(line)}; ${before?.converter.image ? `${before.converter.name} shows its points in registers.` : 'no converter there has an image.'}`;
  });

  constructor() {
    this.unsaved.watch(() => 'the points', this.form);
    focusViewOnOpen();
  }

  /** Whether values of this sort go to the device. */
  protected isTaken(sort: EventSort): boolean {
    return commands(sort) !== this.asks();
  }

  protected addPoint(): void {
    const { points } = this.form().controls;
    const last = points.at(-1)?.getRawValue();
    const taken = points.getRawValue().flatMap(({ sort, index }) => (sort === (last?.sort ?? blankEvent.sort) ? [Number(index)] : []));
    const first = this.is1815() ? 0 : 1;
    const index = Math.max(first - 1, ...taken.filter(Number.isInteger)) + 1;
    const sort = last?.sort ?? blankEvent.sort;
    points.push(eventGroup(null, `Point ${points.length + 1}`, last?.type ?? 'bit', { ...blankEvent, sort, index }));
    this.form().markAsDirty();
  }

  protected removePoint(index: number): void {
    this.form().controls.points.removeAt(index);
    this.form().markAsDirty();
  }

  protected tell(name: string, isTold: boolean): void {
    const names = new Set(this.tells());
    if (isTold) names.add(name);
    else names.delete(name);
    this.tells.set(names);
  }

  protected save(): void {
    const form = this.form();
    form.markAllAsTouched();
    if (form.invalid) return;
    const changes = this.changes();
    if (!changes.ok) return refuseIn(form, { message: changes.problem.message, path: [] });
    this.store.commit(`The points of ${this.state.device()?.name ?? ''}`, changes.value).subscribe((answer) => {
      if (!answer.ok) return refuseIn(form, answer.problem);
      form.markAsPristine();
      this.editor.say('The points are kept. Undo with Ctrl+Z.');
    });
  }

  protected leave(): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.closed.emit());
  }

  /** The points that were typed, each placed where the carrier reads or writes it; and those that are none any more. */
  private changes(): Outcome<Change[]> {
    const document = this.project.document()!;
    const device = this.state.device()!;
    const known = new Map(this.points().map((point) => [point.id, point]));
    const blank = () => blankPoint({ id: newId(), projectId: device.projectId, deviceId: device.id });
    const wanted = this.form()
      .getRawValue()
      .points.map((typed): Point => {
        const point = known.get(typed.id ?? '');
        const base = point ?? blank();
        const pinned = point?.place.kind === 'event' && point.place.pinned;
        const bit = typed.type === 'bit' ? (base.bit ?? 0) : null;
        return { ...base, name: typed.name.trim(), type: typed.type, bit, place: eventTyped(typed, pinned) };
      });
    wanted.push(...this.untold().flatMap((told) => (this.tells().has(told.name) ? [toldPoint(blank(), told)] : [])));
    const goes = ({ place }: Point) => place.kind === 'event' && this.isTaken(place.sort);
    return keepPoints(document, device.id, this.points(), wanted, (was, after) => goes(was) !== goes(after));
  }

  private issuesOf({ points }: TypedEvents): Issue[] {
    return points.flatMap((one, index): Issue[] => {
      const read = PointPlace.safeParse(eventTyped(one, false));
      const problems = read.error?.issues ?? [];
      return [
        ...(one.name.trim() === '' ? [{ path: ['points', index, 'name'], message: 'A name is needed.' }] : []),
        ...problems.map(({ path, message }) => ({ path: ['points', index, ...path.map(String)], message })),
      ];
    });
  }
}

/** A point for what is told of a link. */
function toldPoint(blank: Point, { name }: Told): Point {
  const isBit = name === 'connected';
  const called = `Link: ${name}`;
  return {
    ...{ ...blank, name: isBit ? 'Link is up' : called, type: isBit ? 'bit' : 'uint16', bit: isBit ? 0 : null },
    place: { kind: 'stationState', state: name, pinned: false },
  };
}
