import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { formatAddress } from '@plain-envoy/core/address';
import { arbitrate, bitsOfSignal, type CanSignal, hexIdentifier } from '@plain-envoy/core/can';
import { canBeSignal, identifiersOf, isFrameOf, knownFrame, partsOfRecords, timeOfBus } from '@plain-envoy/core/can-line';
import { converterOf, farLineOf } from '@plain-envoy/core/converter';
import type { CanLineState, SeenFrame } from '@plain-envoy/core/feed';
import { fromHex } from '@plain-envoy/core/frame';
import {
  blankPoint,
  type Change,
  deletion,
  DeviceFrame,
  isSame,
  type Point,
  pointWidth,
  type ProjectDocument,
} from '@plain-envoy/core/model';
import type { Outcome } from '@plain-envoy/core/outcome';
import { messageOf, type PointPlace } from '@plain-envoy/core/place';
import { pointTypes } from '@plain-envoy/core/types';
import { exhaustMap, of, switchMap, timer } from 'rxjs';
import { v7 as newId } from 'uuid';
import { CanLines } from '../../data/can-lines';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { StandIns } from '../../data/stand-ins';
import { choiceAmong } from '../../parts/choice';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { focusViewOnOpen } from '../../parts/focus';
import { named } from '../../parts/named';
import { type Issue, issuesValidator, problemIn, readGroup, refuseIn, valueIn } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import { BitGrid, gridProblems, type ShownSignal, type Stretch, typeOfBits } from './bit-grid';
import { frameGroup, frameIssueAt, frameOfTyped, identifierOtherwise, signalGroup, stretchTyped, type TypedFrame } from './frame-form';
import { FrameLog, type LearnedFrame } from './frame-log';
import { keepPoints } from './kept-points';
import { MapState } from './map-state';

const LOOK_MS = 1000;
const NEW = 'new';

/** What a device on CAN sends and takes: each frame with its identifier, and the bits of it in which signals lie, beside what really came. */
@Component({
  selector: 'pe-frames-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BitGrid, Choose, FrameLog, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, TextField],
  templateUrl: './frames-view.html',
  styleUrls: ['./wide-view.scss', './telegrams-view.scss', './frames-view.scss'],
})
export class FramesView {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  private readonly canLines = inject(CanLines);
  private readonly standIns = inject(StandIns);
  private readonly played = atEdge(this.standIns, 'all');
  readonly closed = output();
  /** The one to begin with; the first where nothing is said. */
  readonly wanted = input<string>();

  private readonly own = computed(() => this.project.document()!.frames.filter(({ deviceId }) => deviceId === this.state.deviceId()));
  private readonly making = linkedSignal<string, boolean>({
    source: () => this.state.deviceId(),
    computation: () => this.own().length === 0,
  });
  /** Those that there are, and one that is being made. */
  private readonly choices = computed(() => [...this.own(), ...(this.making() ? [{ id: NEW, name: 'A new one' }] : [])]);
  protected readonly chosen = choiceAmong(this.choices);
  protected readonly options = computed(() => named(this.choices()));
  protected readonly isNew = computed(() => this.chosen() === NEW);
  private readonly fresh = linkedSignal<string, DeviceFrame>({ source: () => this.state.deviceId(), computation: () => this.blank() });
  private readonly frame = computed(() => this.own().find(({ id }) => id === this.chosen()) ?? this.fresh(), { equal: isSame });
  private readonly points = computed(() => this.project.document()!.points.filter(({ place }) => isPartOf(place, this.frame().id)), {
    equal: isSame,
  });

  protected readonly form = computed(() => {
    const form = frameGroup(this.frame(), this.points());
    form.addValidators(issuesValidator((typed: TypedFrame) => this.issuesOf(typed)));
    return form;
  });
  private readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  protected readonly otherwise = computed(() => identifierOtherwise(this.typed()));
  protected readonly tellsValid = linkedSignal<string, boolean>({ source: () => this.chosen(), computation: () => true });

  protected readonly directions: Option<DeviceFrame['direction']>[] = [
    { value: 'sent', text: 'sends it' },
    { value: 'taken', text: 'takes it' },
  ];
  protected readonly widths: Option<11 | 29>[] = [
    { value: 11, text: '11 bits' },
    { value: 29, text: '29 bits' },
  ];
  protected readonly whens: Option<DeviceFrame['when']['on']>[] = [
    { value: 'period', text: 'again and again' },
    { value: 'change', text: 'on a change' },
    { value: 'toggle', text: 'when a bit or byte of it changes' },
    { value: 'start', text: 'once at the start' },
  ];
  protected readonly ways: Option<'apart' | 'whole'>[] = [
    { value: 'apart', text: 'takes it apart into values' },
    { value: 'whole', text: 'passes such frames whole' },
  ];
  protected readonly toggles: Option<1 | 8>[] = [
    { value: 1, text: 'one bit' },
    { value: 8, text: 'a byte' },
  ];
  protected readonly orders: Option<CanSignal['order']>[] = [
    { value: 'little', text: 'low first' },
    { value: 'big', text: 'high first' },
  ];
  protected readonly types = asOptions(pointTypes.filter((type) => canBeSignal({ type })));
  protected readonly drawOrder = signal<CanSignal['order']>('little');
  protected readonly mark = signal<Stretch | null>(null);
  /** Which signal has the keyboard. */
  protected readonly focusedSignal = signal<number | null>(null);

  protected readonly bytes = computed(() => Math.max(0, Math.min(8, Math.trunc(Number(this.typed().bytes)) || 0)));
  protected readonly shown = computed(() =>
    this.typed().signals.flatMap((one): ShownSignal[] => {
      const stretch = stretchTyped(one);
      return isStretch(stretch) ? [{ ...stretch, name: one.name }] : [];
    }),
  );

  private readonly line = computed(() => farLineOf(this.project.document()!, this.state.deviceId()));
  protected readonly before = computed(() => converterOf(this.project.document()!, this.state.deviceId()));
  protected readonly where = computed(() => {
    const [line, before] = [this.line(), this.before()];
    if (!line) return 'This device is on no line of CAN.';
    return before
      ? `${before.converter.name} has it on ${line.name} and shows its values in registers.`
      : `No converter is on ${line.name}, so nothing carries its values.`;
  });
  private readonly bus = signal<CanLineState | null>(null);
  protected readonly isWhole = computed(() => this.typed().passes === 'whole');
  /** Which identifiers go through as it is typed, and which frames of the line are among them. */
  protected readonly through = computed(() => {
    const frame = DeviceFrame.safeParse(frameOfTyped(this.typed(), this.frame())).data;
    if (!frame?.whole) return '';
    const known = this.ofLine().filter((one) => !one.whole && one.direction === frame.direction && isFrameOf(frame, one));
    const isOther = (one: SeenFrame) => ![frame.direction, undefined].includes(knownFrame(this.ofLine(), one)?.direction);
    const seen = (this.bus()?.frames ?? []).filter((one) => isFrameOf(frame, one) && !isOther(one)).map((one) => hexIdentifier(one));
    const names = known.length
      ? `of the frames of the line ${known.map(({ name }) => name).join(', ')}`
      : 'no frame that is known of the line';
    return `Through go identifiers ${identifiersOf(frame)}: ${names}${seen.length ? `; seen were ${seen.join(', ')}` : ''}.`;
  });
  /** What came of the chosen frame. */
  private readonly seen = computed((): SeenFrame | null => this.bus()?.frames.find((one) => arbitrate(one, this.frame()) === 0) ?? null);
  protected readonly data = computed(() => {
    const bytes = fromHex(this.seen()?.data ?? '');
    return this.seen() && bytes.ok ? bytes.value : null;
  });
  protected readonly moved = computed(() => new Set(this.seen()?.movedBits ?? []));
  protected readonly time = computed(() => {
    const line = this.line();
    const time = line && timeOfBus(this.project.document()!, line.id);
    const own = time?.frames.find(({ id }) => id === this.frame().id);
    if (!time || !own) return '';
    const late =
      own.worstResponseMs === null ? 'its bus is too full for it' : `at worst ${own.worstResponseMs.toFixed(2)} ms after it is due`;
    return `It is on the bus for up to ${own.worstMs.toFixed(2)} ms, ${late}; all frames fill ${(100 * time.load).toFixed(1)} % of ${line.name}.`;
  });
  protected readonly counters = computed(() => {
    const [bus, seen, { whole }] = [this.bus(), this.seen(), this.frame()];
    if (!bus) return 'No stand-ins play its line.';
    const heard = this.played.all().flatMap(({ cans }) => cans.flatMap(({ frames }) => frames.filter(({ id }) => id === this.frame().id)));
    const [passed] = heard;
    const count = whole ? passed?.count : seen?.count;
    if (!count) return `${whole ? 'None has' : 'It has not'} come yet on the stand-ins.`;
    const lost = heard.find(({ way }) => way === 'heard')?.lost ?? 0;
    const trouble = heard.find(({ problem }) => problem !== null)?.problem;
    const parts = [
      `${count} ${whole ? 'went through' : 'came'}`,
      ...(!seen || seen.periodMs === null
        ? []
        : [`every ${Math.round(seen.periodMs * 10) / 10} ms, ${Math.round((seen.jitterMs ?? 0) * 10) / 10} ms off at most`]),
      `stayed away ${lost} ${lost === 1 ? 'time' : 'times'}`,
      ...(trouble ? [trouble] : []),
    ];
    return `On the stand-ins: ${parts.join(' · ')}`;
  });

  /** At which registers of the converter each record is. */
  protected readonly records = computed(() => {
    const byRecord = new Map<number, Point[]>();
    for (const point of this.points())
      if (point.place.kind === 'record') byRecord.set(point.place.record, [...(byRecord.get(point.place.record) ?? []), point]);
    const asked = this.before()?.converter ?? this.state.device();
    const at = (point: Pick<Point, 'table' | 'offset'>) => formatAddress(point, asked?.notation ?? 'pdu', asked?.areas);
    return [...byRecord].map(([record, points]) => {
      const sorted = [...points].sort((a, b) => a.offset - b.offset);
      const last = sorted.at(-1)!;
      const to = at({ table: last.table, offset: last.offset + pointWidth(last) - 1 });
      return `Record ${record + 1}: ${at(sorted[0]!)} to ${to} of ${asked?.name ?? ''}`;
    });
  });
  /** The frames of its line. */
  protected readonly ofLine = computed(() => {
    const { ports, frames } = this.project.document()!;
    const here = new Set(ports.flatMap(({ lineId, deviceId }) => (lineId === this.line()?.id ? [deviceId] : [])));
    return frames.filter(({ deviceId }) => here.has(deviceId));
  });
  protected readonly says = signal<readonly string[]>([]);

  constructor() {
    this.unsaved.watch(() => 'the frame', this.form);
    focusViewOnOpen();
    effect(() => {
      const wanted = this.wanted();
      if (wanted) untracked(() => this.chosen.set(wanted));
    });
    toObservable(this.line)
      .pipe(
        switchMap((line) =>
          line?.kind === 'can'
            ? timer(0, LOOK_MS).pipe(exhaustMap(() => (this.standIns.refresh(), this.canLines.look(line.id))))
            : of(null),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((state) => this.bus.set(state));
  }

  protected choose(id: string): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.chosen.set(id));
  }

  protected add(): void {
    this.unsaved.mayLeave().subscribe((may) => {
      if (!may) return;
      this.fresh.set(this.blank());
      this.making.set(true);
      this.chosen.set(NEW);
    });
  }

  /** A signal where the mark is, or at the first bit that is free. */
  protected addSignal(stretch: Stretch | null): void {
    const taken = new Set(this.shown().flatMap(bitsOfSignal));
    const free = Array.from({ length: 8 * this.bytes() }, (_, bit) => bit).find((bit) => !taken.has(bit)) ?? 0;
    const { signals } = this.form().controls;
    const at = stretch ?? { firstBit: free, bits: 1, order: this.drawOrder() };
    signals.push(signalGroup(null, `Signal ${signals.length + 1}`, typeOfBits({ ...at, signed: false }), at));
    this.mark.set(null);
    this.form().markAsDirty();
  }

  protected removeSignal(index: number): void {
    this.form().controls.signals.removeAt(index);
    this.form().markAsDirty();
  }

  protected save(): void {
    const frame = readGroup(this.form(), { schema: DeviceFrame, from: (typed: TypedFrame) => frameOfTyped(typed, this.frame()) });
    if (!frame) return;
    const document = this.project.document()!;
    const before = this.own().find(({ id }) => id === frame.id) ?? null;
    const points = this.pointsOf(document, frame, before);
    if (!points.ok) return refuseIn(this.form(), { message: points.problem.message, path: [] });
    const changes: Change[] = [{ entity: 'frame', id: frame.id, before, after: frame }, ...points.value];
    const made = points.value.filter(({ before: none, after }) => none === null && after !== null).length;
    const gone = points.value.filter(({ entity, after }) => entity === 'point' && after === null).length;
    this.store.commit(`${frame.name} of ${this.state.device()?.name ?? ''}`, changes).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      this.form().markAsPristine();
      this.making.set(false);
      this.chosen.set(frame.id);
      this.editor.say(
        `${frame.name} is kept${made ? `, with ${made} new point${made === 1 ? '' : 's'}` : ''}${gone ? `, without ${gone} that it had` : ''}. Undo with Ctrl+Z.`,
      );
    });
  }

  protected remove(): void {
    const document = this.project.document()!;
    const frame = this.own().find(({ id }) => id === this.chosen());
    if (!frame) return;
    const inside = document.points.flatMap(({ id, place }) => (messageOf(place) === frame.id ? [id] : []));
    const changes = deletion(document, 'point', ...inside);
    const gone = changes.length;
    this.store
      .commit(`Delete ${frame.name}`, [...changes, { entity: 'frame', id: frame.id, before: frame, after: null }])
      .subscribe((answer) => {
        if (!answer.ok) return refuseIn(this.form(), answer.problem);
        this.editor.say(`Deleted: ${frame.name}${gone ? `, with ${gone} points and routes of it` : ''}. Ctrl+Z brings it back.`);
      });
  }

  /** What was chosen in a log: one is typed in to be looked at, several are kept as they are. */
  protected take(learned: readonly LearnedFrame[]): void {
    this.unsaved.mayLeave().subscribe((may) => {
      if (!may) return;
      if (learned.length > 1) return this.keepAll(learned);
      const { fields, signals: found } = learned[0]!;
      this.fresh.set({ ...this.blank(), ...fields });
      this.making.set(true);
      this.chosen.set(NEW);
      const { signals } = this.form().controls;
      for (const { name, signal } of found) signals.push(signalGroup(null, name, typeOfBits(signal), signal));
      this.form().markAsDirty();
      this.says.set(
        found.length ? found.map(({ name, why }) => `${name}: ${why}`) : ['It shows no signals: too few frames, or nothing in it moves.'],
      );
    });
  }

  private keepAll(learned: readonly LearnedFrame[]): void {
    const document = this.project.document()!;
    const frames = learned.map(({ fields }): DeviceFrame => ({ ...this.blank(), ...fields }));
    const points = learned.flatMap(({ signals }, index) => {
      const { id: frameId, projectId, deviceId, name: frame } = frames[index]!;
      const blank = (name: string): Point => ({ ...blankPoint({ id: newId(), projectId, deviceId }), name });
      return [
        ...signals.map(({ name, signal }): Point => {
          const { firstBit, bits, order } = signal;
          const type = typeOfBits(signal);
          return {
            ...{ ...blank(name), type, bit: type === 'bit' ? 0 : null },
            place: { kind: 'signal', frameId, firstBit, bits, order, pinned: false },
          };
        }),
        {
          ...{ ...blank(`${frame} is valid`), type: 'bit' as const, bit: 0 },
          place: { kind: 'frameState' as const, frameId, state: 'valid' as const, pinned: false },
        },
      ];
    });
    const placed = keepPoints({ ...document, frames: [...document.frames, ...frames] }, this.state.deviceId(), [], points, () => false);
    if (!placed.ok) return this.says.set([placed.problem.message]);
    const changes: Change[] = [...frames.map((after): Change => ({ entity: 'frame', id: after.id, before: null, after })), ...placed.value];
    this.store.commit(`${frames.length} frames of ${this.state.device()?.name ?? ''} from a log`, changes).subscribe((answer) => {
      if (!answer.ok) return this.says.set([answer.problem.message]);
      this.making.set(false);
      this.chosen.set(frames[0]!.id);
      this.editor.say(`${frames.length} frames are kept, with ${points.length} points. Undo with Ctrl+Z.`);
    });
  }

  protected leave(): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.closed.emit());
  }

  /** The points of the signals that were typed, each placed where the carrier reads it; and what is no signal any more. */
  private pointsOf(document: ProjectDocument, frame: DeviceFrame, before: DeviceFrame | null): Outcome<Change[]> {
    const known = new Map(this.points().map((point) => [point.id, point]));
    const { signals } = this.form().getRawValue();
    const wanted = frame.whole
      ? this.recordsOf(frame)
      : signals.map((typed): Point => {
          const point = known.get(typed.id ?? '');
          const place = { kind: 'signal' as const, frameId: frame.id, ...stretchTyped(typed), pinned: false };
          const base = point ?? { ...blankPoint({ id: newId(), projectId: frame.projectId, deviceId: frame.deviceId }) };
          return {
            ...{ ...base, name: typed.name.trim(), type: typed.type, bit: typed.type === 'bit' ? (base.bit ?? 0) : null },
            place: point?.place.kind === 'signal' ? { ...place, pinned: point.place.pinned } : place,
          };
        });
    const tells = (state: string) =>
      document.points.some(({ place }) => place.kind === 'frameState' && place.frameId === frame.id && place.state === state);
    if (frame.direction === 'sent' && this.tellsValid() && !tells('valid'))
      wanted.push({
        ...blankPoint({ id: newId(), projectId: frame.projectId, deviceId: frame.deviceId }),
        ...{ name: `${frame.name} is valid`, type: 'bit', bit: 0 },
        place: { kind: 'frameState', frameId: frame.id, state: 'valid', pinned: false },
      });
    if (frame.whole && frame.direction === 'taken' && !tells('done'))
      wanted.push({
        ...blankPoint({ id: newId(), projectId: frame.projectId, deviceId: frame.deviceId }),
        ...{ name: `${frame.name} count sent`, type: 'uint16' },
        place: { kind: 'frameState', frameId: frame.id, state: 'done', pinned: false },
      });
    const frames = [...document.frames.filter(({ id }) => id !== frame.id), frame];
    const isTurned = () => before?.direction !== frame.direction;
    return keepPoints({ ...document, frames }, frame.deviceId, this.points(), wanted, isTurned);
  }

  /** The parts of its records: those that there are as they are, and what is missing. */
  private recordsOf(frame: DeviceFrame): Point[] {
    return partsOfRecords(frame).map((part): Point => {
      const known = this.points().find(({ place }) => isSame({ ...place, pinned: false }, part.place));
      return known ?? { ...blankPoint({ id: newId(), projectId: frame.projectId, deviceId: frame.deviceId }), ...part };
    });
  }

  private issuesOf(typed: TypedFrame): Issue[] {
    const issues = (DeviceFrame.safeParse(frameOfTyped(typed, this.frame())).error?.issues ?? []).map(frameIssueAt);
    if (typed.passes === 'whole' && typed.signals.length > 0)
      issues.push({ path: ['passes'], message: 'Remove its signals first: a frame that passes whole has none.' });
    const shown: ShownSignal[] = [];
    typed.signals.forEach((one, index) => {
      const stretch = stretchTyped(one);
      if (one.name.trim() === '') issues.push({ path: ['signals', index, 'name'], message: 'A name is needed.' });
      if (!Number.isInteger(stretch.firstBit) || stretch.firstBit < 0 || stretch.firstBit > 63)
        return issues.push({ path: ['signals', index, 'firstBit'], message: 'Bits are 0 to 63.' });
      if (!Number.isInteger(stretch.bits) || stretch.bits < 1 || stretch.bits > 64)
        return issues.push({ path: ['signals', index, 'bits'], message: 'From 1 to 64 bits.' });
      const signal = { ...stretch, name: one.name || `Signal ${index + 1}` };
      const [wrong] = gridProblems([...shown, signal], this.bytes()).filter((text) => text.includes(signal.name));
      if (wrong) issues.push({ path: ['signals', index], message: wrong });
      else shown.push(signal);
      return undefined;
    });
    return issues;
  }

  private blank(): DeviceFrame {
    const device = untracked(() => this.state.device());
    const line = untracked(() => this.line());
    return {
      ...{ id: newId(), projectId: device?.projectId ?? '', deviceId: device?.id ?? '', name: '', note: '' },
      ...{ direction: 'sent', identifierBits: line?.kind === 'can' ? line.identifierBits : 11, identifier: 0x100, bytes: 8, fill: '' },
      when: { on: 'period', periodMs: 100 },
      lostAfterMs: 1000,
      whole: null,
    };
  }
}

function isPartOf(place: PointPlace, frameId: string): boolean {
  return (place.kind === 'signal' || place.kind === 'record') && place.frameId === frameId;
}

function isStretch({ firstBit, bits }: Stretch): boolean {
  return Number.isInteger(firstBit) && firstBit >= 0 && firstBit < 64 && Number.isInteger(bits) && bits >= 1 && bits <= 64;
}
