import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { isBitTable, LAST_OFFSET, readAddress, type Table } from '@plain-envoy/core/address';
import { type Change, type Device, pointWidth } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { typedNumber } from '../../parts/form';
import { addressOf } from '../../parts/format';
import { PointPick } from '../../parts/point-pick';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { beatNames } from '@plain-envoy/core/steps';
import { type FirstPlace, heartbeat, type HeartbeatWish } from '@plain-envoy/core/making';
import { choiceAmong } from '../../parts/choice';
import { asOptions, Choose } from '../../parts/choose';
import { roundOptions } from '../../parts/named';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

/** One of the two ways, as it stands in the form. */
interface TypedWay {
  wanted: boolean;
  sourceId: string | null;
  pattern: HeartbeatWish['pattern'];
  at: string;
  watchdogMs: string;
  good: string;
}

type WayName = 'out' | 'back';
type Ways = Record<WayName, TypedWay>;

/** Makes a heartbeat each way between two devices: its routes, watchdogs and the bits that tell, in one action. */
@Component({
  selector: 'pe-heartbeat-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, PointPick, TextField],
  templateUrl: './heartbeat-panel.html',
  styleUrls: ['./below-panel.scss', './heartbeat-panel.scss'],
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class HeartbeatPanel {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices', 'pointsOf');
  private readonly editor = inject(Editor);
  readonly fromId = input.required<string>();
  readonly toId = input.required<string>();
  readonly carrier = input<string | null>(null);
  readonly closed = output();

  protected readonly patterns = asOptions(Object.keys(beatNames) as HeartbeatWish['pattern'][], (pattern) => beatNames[pattern]);
  protected readonly roundOptions = computed(() => roundOptions(this.rounds()));
  protected readonly ways: readonly WayName[] = ['out', 'back'];
  protected readonly rounds = computed(() => this.project.document()!.rounds);
  protected readonly roundId = choiceAmong(this.rounds, (rounds) => rounds.find(({ periodMs }) => periodMs >= 1000) ?? rounds[0]);
  private readonly round = computed(() => this.rounds().find(({ id }) => id === this.roundId()));
  protected readonly typed = linkedSignal<Ways>(() => ({ out: this.blank(this.toId()), back: this.blank(this.fromId()) }));
  protected readonly problem = signal<string | null>(null);
  /** What each way would make, or what keeps it from being made and at which field. */
  protected readonly results = computed((): Record<WayName, Outcome<{ changes: Change[]; said: string[] }> | null> => ({
    out: this.outcome('out'),
    back: this.outcome('back'),
  }));
  protected readonly changes = computed(() => this.ways.flatMap((way) => this.changesOf(way)));
  protected readonly isSound = computed(() => this.changes().length > 0 && this.ways.every((way) => this.results()[way]?.ok ?? true));

  constructor() {
    focusOnOpen();
  }

  protected from(way: WayName): Device {
    return this.project.devices().get(way === 'out' ? this.fromId() : this.toId())!;
  }

  protected to(way: WayName): Device {
    return this.from(way === 'out' ? 'back' : 'out');
  }

  protected type(way: WayName, fields: Partial<TypedWay>): void {
    this.typed.update((ways) => ({ ...ways, [way]: { ...ways[way], ...fields } }));
  }

  protected problemAt(way: WayName, field: string): string | null {
    const result = this.results()[way];
    return result && !result.ok && (result.problem.path[0] ?? 'at') === field ? result.problem.message : null;
  }

  protected said(way: WayName): string {
    const result = this.results()[way];
    const text = result?.ok ? `${result.value.said.join('; ')}.` : '';
    return text.charAt(0).toUpperCase() + text.slice(1);
  }

  protected make(): void {
    if (!this.isSound()) return this.problem.set('Choose at least one way, and mend what is marked.');
    const names = `${this.from('out').name} and ${this.to('out').name}`;
    this.store.commit(`Heartbeats between ${names}`, this.changes()).subscribe((answer) => {
      if (!answer.ok) return this.problem.set(answer.problem.message);
      this.editor.say(`Made: heartbeats between ${names}. Ctrl+Z takes them back.`);
      this.closed.emit();
    });
  }

  private changesOf(way: WayName): Change[] {
    const result = this.results()[way];
    return result?.ok ? result.value.changes : [];
  }

  private outcome(way: WayName): Outcome<{ changes: Change[]; said: string[] }> | null {
    const { wanted, sourceId, pattern, at, watchdogMs, good: goodText } = this.typed()[way];
    const round = this.round();
    if (!wanted) return null;
    if (!round) return bad('There is no round yet. Add one in Rounds.', 'at');
    const to = this.to(way);
    const place = placeOf(at, to, 'holding');
    if (!place.ok) return bad(place.problem.message, 'at');
    const goodAt = goodText.trim() ? placeOf(goodText, to, 'coil') : good(null);
    if (!goodAt.ok) return bad(goodAt.problem.message, 'good');
    return heartbeat({
      from: this.from(way),
      to,
      points: this.project.document()!.points,
      ...{ sourceId, pattern, newId },
      at: place.value,
      goodAt: goodAt.value,
      watchdogMs: typedNumber(watchdogMs) as number,
      roundId: round.id,
      periodMs: round.periodMs,
      carrierId: this.carrier(),
    });
  }

  /** The first free register and coil of the receiver, and a watchdog of three periods. */
  private blank(toId: string): TypedWay {
    const device = this.project.devices().get(toId);
    const points = this.project.pointsOf().get(toId) ?? [];
    const free = (table: Table) =>
      Math.min(
        LAST_OFFSET,
        points.reduce((end, point) => (point.table === table ? Math.max(end, point.offset + pointWidth(point)) : end), 0),
      );
    const text = (table: Table) => addressOf({ table, offset: free(table), bit: null }, device);
    const hasCoils = points.some(({ table }) => table === 'coil');
    return {
      ...{ wanted: true, sourceId: null, pattern: 'counter' },
      at: text('holding'),
      watchdogMs: String(3 * (untracked(this.round)?.periodMs ?? 1000)),
      good: hasCoils ? text('coil') : '',
    };
  }
}

/** An address as it is typed for this device. A bit is wanted in a register where a number after a point says which. */
function placeOf(text: string, { notation, areas }: Device, likely: Table): Outcome<FirstPlace> {
  const own = readAddress(text, { notation, areas });
  const read = own.ok && own.value.length ? own : readAddress(text, { areas });
  if (!read.ok) return read;
  const { table, offset, bit } = read.value[0]!;
  const place = { table: table ?? likely, offset, bit };
  return likely === 'coil' && !isBitTable(place.table) && bit === null ? bad('Say which bit of the register, as in 40012.3.') : good(place);
}
