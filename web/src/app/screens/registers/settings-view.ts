import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  linkedSignal,
  output,
  signal,
  untracked,
} from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { SettingEvent } from '@plain-envoy/core/feed';
import { canBeWritten, type Change, type Point, rawText, valueText } from '@plain-envoy/core/model';
import type { Target } from '@plain-envoy/core/plan';
import {
  chooseSettings,
  likelySettings,
  type Side,
  type SideBySide,
  sideBySide,
  type Snapshot,
  valuesFor,
  verdictOn,
  want,
  wantHeld,
  winningWords,
} from '@plain-envoy/core/settings';
import type { Observable, Subscription } from 'rxjs';
import { Refused } from '../../data/api';
import { DeviceSettings } from '../../data/device-settings';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Choose, type Option } from '../../parts/choose';
import { textControl } from '../../parts/controls';
import { focusViewOnOpen } from '../../parts/focus';
import { addressOf, dateText, timeText } from '../../parts/format';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { ticked } from '../../parts/ticked';
import { MapState } from './map-state';

/** What is compared: what the device holds, a snapshot by its id, or nothing. */
const NOW = 'now';
const NOTHING = '';

/** What a device holds, as it was read here. */
interface Reading {
  atMs: number;
  words: ReadonlyMap<string, number[]>;
  why: ReadonlyMap<string, string>;
}

const unread: Reading = { atMs: 0, words: new Map(), why: new Map() };
const places: Option<Target>[] = [
  { value: 'stand-ins', text: 'its stand-in' },
  { value: 'real', text: 'the real plant' },
];

/** Settings of a device as designed and as they are, side by side: for each the side that wins is chosen, written and read back, or kept as wanted. */
@Component({
  selector: 'pe-settings-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './settings-view.html',
  styleUrls: ['./wide-view.scss', './settings-view.scss'],
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class SettingsView {
  protected readonly state = inject(MapState);
  private readonly settings = inject(DeviceSettings);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  readonly closed = output();

  protected readonly places = places;
  protected readonly on = signal<Target>('stand-ins');
  protected readonly problem = signal<string | null>(null);
  protected readonly progress = signal<{ doing: string; done: number; total: number } | null>(null);
  private running: Subscription | null = null;

  /** Where the registers of the settings are: what was read elsewhere is not theirs. */
  private readonly layout = computed(() =>
    this.state
      .points()
      .map(({ id, table, offset, bit, type, length }) => [id, table, offset, bit, type, length].join())
      .join(),
  );
  private readonly held = linkedSignal<unknown, Reading>({
    source: () => `${this.state.deviceId()} ${this.on()} ${this.layout()}`,
    computation: () => unread,
  });
  protected readonly snapshots = signal<readonly Snapshot[]>([]);
  protected readonly first = this.anew(NOW);
  protected readonly second = this.anew(NOTHING);
  protected readonly onlyDiffering = signal(false);
  protected readonly wins = this.anew<ReadonlyMap<string, Side>>(new Map());
  /** What came of what was written last, by point. */
  protected readonly said = this.anew<ReadonlyMap<string, { text: string; isGood: boolean }>>(new Map());
  /** What was typed and does not fit, by point. */
  private readonly typed = this.anew<ReadonlyMap<string, { text: string; problem: string }>>(new Map());
  protected readonly keeping = new FormGroup({ note: textControl('') });
  protected readonly isKeeping = this.anew(false);
  /** A person looks at what would be written to the real plant. */
  protected readonly isAsking = this.anew(false);
  /** The points that are ticked, while it is chosen which are settings; null while it is not. */
  protected readonly ticked = this.anew<ReadonlySet<string> | null>(null);

  protected readonly points = computed(() => this.state.points().filter(({ setting }) => setting !== null));
  protected readonly isChoosing = computed(() => this.ticked() !== null || this.points().length === 0);
  protected readonly choosable = computed(() => this.state.points().filter((point) => point.access !== 'read' || point.setting !== null));
  protected readonly likely = computed(() => likelySettings(this.project.document()!, this.state.deviceId()));
  protected readonly chosenNow = computed(() => this.ticked() ?? new Set(this.points().map(({ id }) => id)));

  protected readonly firstOptions = computed((): Option<string>[] => [
    {
      value: NOW,
      text: this.on() === 'real' ? 'the device' : 'its stand-in',
      more: this.held().atMs ? timeText(this.held().atMs) : 'not read yet',
    },
    ...this.snapshotOptions(),
  ]);
  protected readonly secondOptions = computed((): Option<string>[] => [
    { value: NOTHING, text: 'nothing else' },
    ...this.snapshotOptions(),
  ]);
  private readonly snapshotOptions = computed(() => {
    const device = this.state.deviceId();
    const own = this.snapshots().filter(({ deviceId }) => deviceId === device);
    const others = this.snapshots().filter(({ deviceId }) => deviceId !== device);
    return [...own, ...others].map((snapshot) => ({
      value: snapshot.id,
      text: `${snapshot.deviceId === device ? 'snapshot' : snapshot.device} ${dateText(snapshot.atMs)}`,
      more: [snapshot.note, snapshot.on === 'real' ? '' : 'of the stand-in'].filter(Boolean).join(', '),
    }));
  });
  protected readonly looked = computed(() => this.snapshots().filter(({ id }) => id === this.first() || id === this.second()));

  private readonly all = computed(() => sideBySide(this.points(), this.valuesOf(this.first()), this.valuesOf(this.second())));
  protected readonly rows = computed(() => (this.onlyDiffering() ? this.all().filter(({ verdict }) => verdict === 'differs') : this.all()));
  protected readonly differing = computed(() => this.all().filter(({ verdict }) => verdict === 'differs').length);
  private readonly winning = computed(() => winningWords(this.all(), this.wins()));
  /** What would be written: what wins and is not what the device holds, as far as that is known. */
  protected readonly toWrite = computed(() =>
    this.points().flatMap((point) => {
      const words = this.winning().get(point.id);
      const isThere = words && verdictOn(point, words, this.held().words.get(point.id) ?? null) === 'same';
      return words && !isThere && canBeWritten(point) ? [{ point, words }] : [];
    }),
  );
  protected readonly toWant = computed(() => wantHeld(this.points(), this.winning()));
  protected readonly sides = computed(() => [
    { side: 'wanted' as const, text: 'wanted' },
    { side: 'first' as const, text: this.nameOf(this.first(), this.firstOptions()) },
    ...(this.second() === NOTHING ? [] : [{ side: 'second' as const, text: this.nameOf(this.second(), this.secondOptions()) }]),
  ]);

  protected readonly idOf = ({ point }: SideBySide): string => point.id;
  protected readonly idOfPoint = ({ id }: Point): string => id;
  protected readonly columns = computed((): readonly Column<SideBySide>[] => [
    { name: 'name', head: 'Setting', text: ({ point }) => point.name, more: ({ point }) => point.note, by: ({ point }) => point.name },
    { name: 'address', head: 'Address', text: ({ point }) => addressOf(point, this.state.device()), kind: 'mono' },
    { name: 'wanted', head: 'Wanted' },
    ...this.sides().map(({ side, text }): Column<SideBySide> => ({
      name: `side-${side}`,
      head: side === 'wanted' ? 'As wanted' : capital(text),
    })),
    { name: 'verdict', head: '', kind: 'what', by: ({ verdict }) => verdict },
  ]);
  protected readonly chooseColumns: readonly Column<Point>[] = [
    { name: 'tick', head: '' },
    { name: 'name', head: 'Point', text: ({ name }) => name, by: ({ name }) => name },
    { name: 'address', head: 'Address', text: (point) => addressOf(point, this.state.device()), kind: 'mono' },
    { name: 'type', head: 'Type', text: ({ type, unit }) => [type, unit].join(' ') },
    { name: 'note', head: 'Note', text: ({ note }) => note, more: ({ note }) => note, kind: 'what' },
  ];

  constructor() {
    focusViewOnOpen();
    this.reload();
    effect(() => {
      this.state.deviceId();
      untracked(() => this.stop());
    });
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected read(): void {
    const [words, why] = [new Map<string, number[]>(), new Map<string, string>()];
    const ids = this.points().map(({ id }) => id);
    this.follow('Reading', this.settings.read(this.of(), ids), (event) => {
      if (event.kind === 'held') words.set(event.pointId, event.words);
      if (event.kind === 'unread') why.set(event.pointId, event.why);
      if (event.kind === 'done') {
        this.held.set({ atMs: Date.now(), words, why });
        this.said.set(new Map());
      }
    });
  }

  protected keep(): void {
    this.follow('Reading all points', this.settings.keep(this.of(), this.keeping.getRawValue().note), (event) => {
      if (event.kind === 'held') this.takeHeld(event.pointId, event.words);
      if (event.kind !== 'kept') return;
      this.isKeeping.set(false);
      this.keeping.reset();
      this.reload(event.snapshotId);
      this.editor.say(`Kept what ${this.state.device()?.name} holds.`);
    });
  }

  /** What goes to the real plant is looked at once more. */
  protected askOrWrite(): void {
    if (this.on() === 'real') this.isAsking.set(true);
    else this.write();
  }

  protected write(): void {
    this.isAsking.set(false);
    const values = this.toWrite().map(({ point, words }) => ({ pointId: point.id, words }));
    this.said.set(new Map());
    this.follow('Writing', this.settings.write(this.of(), values), (event) => {
      if (event.kind !== 'written') return;
      const isGood = event.state === 'holds';
      this.said.update((said) => new Map(said).set(event.pointId, { text: isGood ? 'written and read back' : event.sentence, isGood }));
      if (isGood)
        this.wins.update((wins) => {
          const next = new Map(wins);
          next.delete(event.pointId);
          return next;
        });
      this.takeHeld(event.pointId, event.words);
    });
  }

  protected keepAsWanted(): void {
    this.commit(`${this.toWant().length} settings of ${this.state.device()?.name} are wanted as chosen`, this.toWant());
  }

  protected choose(side: Side, { point }: SideBySide): void {
    this.wins.update((wins) => {
      const next = new Map(wins);
      if (wins.get(point.id) === side) next.delete(point.id);
      else next.set(point.id, side);
      return next;
    });
  }

  /** The same side for all that differ. */
  protected chooseAll(side: Side): void {
    this.wins.set(
      new Map(this.all().flatMap(({ point, verdict, sides }) => (verdict !== 'same' && sides[side] ? [[point.id, side]] : []))),
    );
  }

  protected typedOf({ point, problem }: SideBySide): { text: string; problem: string | null } {
    return this.typed().get(point.id) ?? { text: point.setting?.wanted ?? '', problem };
  }

  /** What does not fit stays as it was typed, with why. */
  protected type({ point }: SideBySide, text: string): void {
    const change = want(point, text);
    const problem = sideBySide([change.after as unknown as Point], new Map(), new Map())[0]!.problem;
    this.typed.update((typed) => {
      const next = new Map(typed);
      if (problem) next.set(point.id, { text, problem });
      else next.delete(point.id);
      return next;
    });
    if (!problem && (text.trim() || null) !== (point.setting?.wanted ?? null))
      this.commit(text.trim() ? `${point.name} is wanted as ${text}` : `${point.name} is not decided`, [change]);
  }

  protected textOf(words: readonly number[] | null, { point }: SideBySide): string {
    return words ? valueText(words, point) : '';
  }

  protected moreOf(words: readonly number[] | null, { point }: SideBySide): string {
    return words ? `Registers ${rawText(words, point)}` : '';
  }

  protected verdictOf({ point, verdict, sides }: SideBySide): { text: string; kind: 'good' | 'bad' | 'quiet' } {
    const said = this.said().get(point.id);
    if (said) return { text: said.text, kind: said.isGood ? 'good' : 'bad' };
    const why = this.first() === NOW ? this.held().why.get(point.id) : undefined;
    if (why) return { text: `not read: ${why}`, kind: 'bad' };
    if (verdict === 'same') return { text: 'the same', kind: 'good' };
    if (verdict === 'differs') return { text: 'differs', kind: 'bad' };
    return { text: sides.first || sides.second ? 'not decided' : 'not known', kind: 'quiet' };
  }

  protected beginChoosing(): void {
    this.ticked.set(new Set(this.points().map(({ id }) => id)));
  }

  protected tick(point: Point, isOn: boolean): void {
    this.ticked.set(ticked(this.chosenNow(), point.id, isOn));
  }

  protected tickLikely(): void {
    this.ticked.set(new Set([...this.chosenNow(), ...this.likely().map(({ id }) => id)]));
  }

  protected saveChoice(): void {
    const changes = chooseSettings(this.state.points(), this.chosenNow());
    if (changes.length === 0) return this.ticked.set(null);
    this.commit(`Settings of ${this.state.device()?.name}`, changes, () => this.ticked.set(null));
  }

  protected forget({ id }: Snapshot): void {
    this.settings.forget(id).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (this.first() === id) this.first.set(NOW);
      if (this.second() === id) this.second.set(NOTHING);
      this.reload();
    });
  }

  protected stop(): void {
    this.running?.unsubscribe();
    this.ended();
  }

  protected titleOf(snapshot: Snapshot): string {
    const unread = snapshot.unread.length ? `, ${snapshot.unread.length} of its points could not be read` : '';
    const who = snapshot.by ? ` by ${snapshot.by}` : '';
    return `${snapshot.device}, ${dateText(snapshot.atMs)}${who}: ${snapshot.values.length} values${unread}. ${snapshot.note}`;
  }

  private valuesOf(source: string): ReadonlyMap<string, readonly number[]> {
    if (source === NOW) return this.held().words;
    const snapshot = this.snapshots().find(({ id }) => id === source);
    return snapshot ? valuesFor(this.points(), snapshot) : new Map();
  }

  private nameOf(source: string, options: readonly Option<string>[]): string {
    return options.find(({ value }) => value === source)?.text ?? '';
  }

  private of() {
    return { on: this.on(), deviceId: this.state.deviceId() };
  }

  private follow(doing: string, events: Observable<SettingEvent>, take: (event: SettingEvent) => void): void {
    this.stop();
    this.problem.set(null);
    this.progress.set({ doing, done: 0, total: 0 });
    this.running = events.subscribe({
      next: (event) => {
        if (event.kind === 'progress') this.progress.set({ doing, done: event.done, total: event.total });
        if (event.kind === 'failed') this.problem.set(event.sentence);
        take(event);
      },
      error: (error: unknown) => {
        this.ended();
        this.problem.set(
          error instanceof Refused ? error.problem.message : 'The server was lost meanwhile; read again what the device holds.',
        );
      },
      complete: () => this.ended(),
    });
  }

  private takeHeld(pointId: string, words: number[] | null): void {
    this.held.update((held) => {
      const next = new Map(held.words);
      if (words) next.set(pointId, words);
      else next.delete(pointId);
      return { ...held, atMs: Date.now(), words: next };
    });
  }

  private ended(): void {
    this.running = null;
    this.progress.set(null);
  }

  private reload(show?: string): void {
    this.settings.snapshots().subscribe((answer) => {
      if (!answer.ok) return this.problem.set(answer.problem.message);
      this.snapshots.set(answer.value);
      if (show) this.second.set(show);
    });
  }

  private commit(label: string, changes: Change[], then: () => void = () => undefined): void {
    this.store.commit(label, changes).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (!answer.ok) return;
      this.editor.say(`${label}. Undo with Ctrl+Z.`);
      then();
    });
  }

  /** What is so at first, and again with each other device. */
  private anew<T>(value: T) {
    return linkedSignal<unknown, T>({ source: () => this.state.deviceId(), computation: () => value });
  }
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
