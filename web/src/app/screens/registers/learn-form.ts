import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { SettingEvent } from '@plain-envoy/core/feed';
import type { Learned, Lesson, Observed } from '@plain-envoy/core/learned';
import type { Change } from '@plain-envoy/core/model';
import type { PlayedPoint } from '@plain-envoy/core/behaviours';
import type { Target } from '@plain-envoy/core/plan';
import type { Speaker } from '@plain-envoy/core/replay';
import { merge, of, type Subscription, switchMap } from 'rxjs';
import { AttachmentStore } from '../../data/attachments';
import { Refused } from '../../data/api';
import { DeviceSettings } from '../../data/device-settings';
import { Learning } from '../../data/learning';
import type { ToldLearning } from '../../data/learning.worker';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Choose, type Option } from '../../parts/choose';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { focusOnOpen } from '../../parts/focus';
import { forgetRefusals, problemIn, refuseIn } from '../../parts/schema-group';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { MapState } from './map-state';

const DAY_S = 86_400;
const FASTEST_S = 0.2;

/** Learns from the real device, or from a recording of it, what its stand-in shall do; or lets the stand-in play the recording itself. */
@Component({
  selector: 'pe-learn-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './learn-form.html',
  styleUrl: './learn-form.scss',
})
export class LearnForm {
  private readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly settings = inject(DeviceSettings);
  private readonly learning = inject(Learning);
  private readonly attachments = inject(AttachmentStore);
  private readonly gone = inject(DestroyRef);
  readonly points = input.required<readonly PlayedPoint[]>();
  private readonly attached = atEdge(this.attachments, 'ofDevice');
  private whatWasRead: readonly Observed[] = [];
  /** A program by which the stand-in behaves alike. */
  readonly written = output<string>();
  /** It plays the recording from now on; the sentence says so. */
  readonly plays = output<string>();
  readonly closed = output();

  protected readonly sources: Option<'read' | 'recording'>[] = [
    { value: 'read', text: 'reading it for a while' },
    { value: 'recording', text: 'a recording of it' },
  ];
  protected readonly places: Option<Target>[] = [
    { value: 'stand-ins', text: 'its stand-in' },
    { value: 'real', text: 'the real plant' },
  ];
  protected readonly form = new FormGroup({
    from: controlOf<'read' | 'recording'>('read'),
    on: controlOf<Target>('real'),
    seconds: textControl(60),
    every: textControl(1),
    who: textControl(''),
  });
  protected readonly problem = problemIn(() => this.form);
  protected readonly told = signal<string | null>(null);
  protected readonly reading = signal<Subscription | null>(null);
  protected readonly file = signal<File | null>(null);
  protected readonly lesson = signal<Lesson | null>(null);
  private readonly speakers = signal<readonly Speaker[]>([]);
  protected readonly options = computed((): Option<string>[] =>
    this.speakers().map(({ endpointId, unit, answered }) => ({
      value: `${endpointId} ${unit}`,
      text: `${endpointId}, unit ${unit}`,
      more: `${answered} answer${answered === 1 ? '' : 's'}`,
    })),
  );
  protected readonly idOf = ({ variable }: Learned): string => variable;
  protected readonly columns: readonly Column<Learned>[] = [
    { name: 'name', head: 'Point', text: ({ name }) => name },
    { name: 'says', head: 'Was seen', kind: 'wrapped', text: ({ says }) => says, classOf: ({ moves }) => (moves ? '' : 'quiet') },
  ];

  constructor() {
    focusOnOpen();
    this.gone.onDestroy(() => this.stop());
    this.attachments.load().pipe(takeUntilDestroyed(this.gone)).subscribe();
    merge(this.form.controls.from.valueChanges, this.form.controls.who.valueChanges)
      .pipe(takeUntilDestroyed(this.gone))
      .subscribe(() => this.forget());
  }

  /** Reads every point again and again; what was seen until it ends is what is learned from. */
  protected read(): void {
    const { on, seconds, every } = this.form.getRawValue();
    const [lastsS, everyS] = [typedNumber(seconds), typedNumber(every)];
    forgetRefusals(this.form);
    if (!(lastsS >= 1 && lastsS <= DAY_S)) return refuseIn(this.form, { message: 'From 1 s to a day.', path: ['seconds'] });
    if (!(everyS >= FASTEST_S && everyS <= 60)) return refuseIn(this.form, { message: 'From 0.2 to 60 s.', path: ['every'] });
    const deviceId = this.state.deviceId();
    const points = this.state.points().filter(({ access }) => access !== 'write');
    if (points.length === 0) return refuseIn(this.form, { message: 'This device has no points that can be read.', path: [] });
    this.forget();
    const at = new Map(points.map((point) => [point.id, point]));
    const observed: Observed[] = [];
    const untilMs = Date.now() + 1000 * lastsS;
    let rounds = 0;
    const take = (event: SettingEvent) => {
      const point = event.kind === 'held' && at.get(event.pointId);
      if (point) observed.push({ table: point.table, offset: point.offset, atMs: Date.now(), values: event.words });
      if (event.kind === 'failed') refuseIn(this.form, { message: event.sentence, path: [] });
      if (event.kind === 'done') {
        rounds += 1;
        const left = Math.max(0, Math.round((untilMs - Date.now()) / 1000));
        this.told.set(`Read ${rounds} time${rounds === 1 ? '' : 's'}, ${left} s to go.`);
      }
      if (event.kind === 'failed' || (event.kind === 'done' && Date.now() >= untilMs)) this.learned(observed);
    };
    this.told.set('Reading …');
    this.whatWasRead = observed;
    const ids = points.map(({ id }) => id);
    this.reading.set(
      this.settings.read({ on, deviceId }, ids, Math.round(1000 * everyS)).subscribe({
        next: take,
        error: (error: unknown) => {
          this.stop();
          this.told.set(null);
          if (error instanceof Refused) refuseIn(this.form, error.problem);
        },
      }),
    );
  }

  /** What was read so far is enough. */
  protected enough(): void {
    this.learned(this.whatWasRead);
  }

  protected choose(file: File | undefined): void {
    if (!file) return;
    this.forget();
    this.file.set(file);
    this.speakers.set([]);
    this.learning
      .speakers(file)
      .pipe(takeUntilDestroyed(this.gone))
      .subscribe((told) => {
        if (told.kind !== 'speakers') return this.take(told);
        this.speakers.set(told.speakers);
        this.form.controls.who.setValue(this.likeliest(told.speakers));
      });
  }

  protected learn(): void {
    const [file, who] = [this.file(), this.who()];
    if (!file || !who) return refuseIn(this.form, { message: 'Who in it is the device?', path: ['who'] });
    this.forget();
    this.learning
      .fromRecording(file, who, this.points())
      .pipe(takeUntilDestroyed(this.gone))
      .subscribe((told) => this.take(told));
  }

  /** Keeps the recording with the device, and lets its stand-in play it. */
  protected play(): void {
    const [file, who, device] = [this.file(), this.who(), this.state.device()];
    if (!device) return;
    if (!file || !who) return refuseIn(this.form, { message: 'Who in it is the device?', path: ['who'] });
    const own = new File([file], this.freeName(file.name));
    this.told.set(`${own.name} is sent …`);
    this.attachments
      .add(device.id, own)
      .pipe(
        switchMap((added) => {
          if (!added.ok) return of(added);
          const after = { ...device, recording: { file: added.value.name, ...who } };
          const change: Change = { entity: 'device', id: device.id, before: device, after };
          return this.store.commit(`${device.name} is played from ${added.value.name}`, [change]);
        }),
        takeUntilDestroyed(this.gone),
      )
      .subscribe((answer) => {
        this.told.set(null);
        if (answer.ok) this.plays.emit(`The stand-in of ${device.name} plays ${own.name} from now on.`);
        else refuseIn(this.form, { message: answer.problem.message, path: [] });
      });
  }

  private learned(observed: readonly Observed[]): void {
    this.stop();
    this.told.set(null);
    if (observed.length === 0) return;
    this.learning
      .fromObserved(observed, this.points())
      .pipe(takeUntilDestroyed(this.gone))
      .subscribe((told) => this.take(told));
  }

  private take(told: ToldLearning): void {
    if (told.kind === 'failed') refuseIn(this.form, { message: told.sentence, path: [] });
    if (told.kind === 'lesson') this.lesson.set(told.lesson);
  }

  private who(): { endpointId: string; unit: number } | null {
    const chosen = this.form.controls.who.value;
    const found = this.speakers().find(({ endpointId, unit }) => `${endpointId} ${unit}` === chosen);
    return found ? { endpointId: found.endpointId, unit: found.unit } : null;
  }

  /** By the addresses and unit IDs of the device; else whoever has most to tell. */
  private likeliest(speakers: readonly Speaker[]): string {
    const ports = this.project.document()!.ports.filter(({ deviceId }) => deviceId === this.state.deviceId());
    const suits = ({ endpointId, unit }: Speaker) =>
      ports.reduce(
        (sum, port) =>
          sum +
          (port.kind === 'ethernet' && endpointId.startsWith(`${port.ip}:`) ? 2 : 0) +
          (port.kind === 'serial' && port.unitId === unit ? 1 : 0),
        0,
      );
    const [likeliest] = [...speakers].sort((a, b) => suits(b) - suits(a));
    return likeliest ? `${likeliest.endpointId} ${likeliest.unit}` : '';
  }

  /** A name that no other file of this device has, since the recording is found by it. */
  private freeName(name: string): string {
    const taken = new Set(
      this.attached
        .ofDevice()
        .get(this.state.deviceId())
        ?.map((attachment) => attachment.name),
    );
    const dot = name.lastIndexOf('.') > 0 ? name.lastIndexOf('.') : name.length;
    for (let number = 1; ; number++) {
      const tried = number === 1 ? name : `${name.slice(0, dot)} ${number}${name.slice(dot)}`;
      if (!taken.has(tried)) return tried;
    }
  }

  private stop(): void {
    this.reading()?.unsubscribe();
    this.reading.set(null);
  }

  private forget(): void {
    this.stop();
    forgetRefusals(this.form);
    this.told.set(null);
    this.lesson.set(null);
  }
}
