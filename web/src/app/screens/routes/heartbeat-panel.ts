import { ChangeDetectionStrategy, Component, computed, inject, input, output, untracked } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { isBitTable, LAST_OFFSET, readDeviceAddress, type Table } from '@plain-envoy/core/address';
import { type Change, type Device, pointWidth, type Round } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { addressOf } from '../../parts/format';
import { PointPick } from '../../parts/point-pick';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { beatNames } from '@plain-envoy/core/steps';
import { type FirstPlace, heartbeat, type HeartbeatWish } from '@plain-envoy/core/making';
import { asOptions, Choose } from '../../parts/choose';
import { roundOptions } from '../../parts/named';
import { settle, issuesValidator, problemIn, refuseIn, valueIn } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

type WayName = 'out' | 'back';
type Typed = Record<WayName, ReturnType<ReturnType<typeof wayGroup>['getRawValue']>> & { round: string };

/** Makes a heartbeat each way between two devices: its routes, watchdogs and the bits that tell, in one action. */
@Component({
  selector: 'pe-heartbeat-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, PointPick, ReactiveFormsModule, TextField],
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
  /** Begun anew for each two devices. */
  protected readonly form = computed(() => {
    const [fromId, toId] = [this.fromId(), this.toId()];
    return untracked(() => {
      const rounds = this.rounds();
      const round = rounds.find(({ periodMs }) => periodMs >= 1000) ?? rounds[0];
      const form = new FormGroup({ out: this.blank(toId, round), back: this.blank(fromId, round), round: controlOf(round?.id ?? '') });
      form.addValidators(issuesValidator((typed: Typed) => this.ways.flatMap((way) => this.issuesOf(way, typed))));
      // What is proposed may be wrong, too.
      form.markAllAsTouched();
      form.updateValueAndValidity();
      return form;
    });
  });
  protected readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  /** What each way would make, or what keeps it from being made and at which field. */
  protected readonly results = computed((): Record<WayName, Outcome<{ changes: Change[]; said: string[] }> | null> => ({
    out: this.outcome('out', this.typed()),
    back: this.outcome('back', this.typed()),
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

  protected said(way: WayName): string {
    const result = this.results()[way];
    const text = result?.ok ? `${result.value.said.join('; ')}.` : '';
    return text.charAt(0).toUpperCase() + text.slice(1);
  }

  protected make(): void {
    if (!this.isSound()) return refuseIn(this.form(), { message: 'Choose at least one way, and mend what is marked.', path: [] });
    const names = `${this.from('out').name} and ${this.to('out').name}`;
    this.store.commit(`Heartbeats between ${names}`, this.changes()).subscribe((answer) => {
      if (!settle(this.form(), answer)) return;
      this.editor.say(`Made: heartbeats between ${names}. Ctrl+Z takes them back.`);
      this.closed.emit();
    });
  }

  private changesOf(way: WayName): Change[] {
    const result = this.results()[way];
    return result?.ok ? result.value.changes : [];
  }

  private issuesOf(way: WayName, typed: Typed): { path: string[]; message: string }[] {
    const outcome = this.outcome(way, typed);
    if (!outcome || outcome.ok) return [];
    const field = String(outcome.problem.path[0] ?? 'at');
    return [{ path: field === 'round' ? [field] : [way, field], message: outcome.problem.message }];
  }

  private outcome(way: WayName, typed: Typed): Outcome<{ changes: Change[]; said: string[] }> | null {
    const { wanted, source, pattern, at, watchdog, good: goodText } = typed[way];
    const round = this.rounds().find(({ id }) => id === typed.round);
    if (!wanted) return null;
    if (!round) return bad('It needs a round; add one in Rounds.', 'round');
    const to = this.to(way);
    const place = placeOf(at, to, 'holding');
    if (!place.ok) return bad(place.problem.message, 'at');
    const goodAt = goodText.trim() ? placeOf(goodText, to, 'coil') : good(null);
    if (!goodAt.ok) return bad(goodAt.problem.message, 'good');
    return heartbeat({
      from: this.from(way),
      to,
      points: this.project.document()!.points,
      ...{ sourceId: source, pattern, newId },
      at: place.value,
      goodAt: goodAt.value,
      watchdogMs: typedNumber(watchdog),
      roundId: round.id,
      periodMs: round.periodMs,
      carrierId: this.carrier(),
    });
  }

  /** The first free register and coil of the receiver, and a watchdog of three periods. */
  private blank(toId: string, round: Round | undefined) {
    const device = this.project.devices().get(toId);
    const points = this.project.pointsOf().get(toId) ?? [];
    const free = (table: Table) =>
      Math.min(
        LAST_OFFSET,
        points.reduce((end, point) => (point.table === table ? Math.max(end, point.offset + pointWidth(point)) : end), 0),
      );
    const text = (table: Table) => addressOf({ table, offset: free(table), bit: null }, device);
    const hasCoils = points.some(({ table }) => table === 'coil');
    return wayGroup({ at: text('holding'), watchdogMs: 3 * (round?.periodMs ?? 1000), good: hasCoils ? text('coil') : '' });
  }
}

/** The controls of one way, as it is proposed. */
function wayGroup({ at, watchdogMs, good: goodAt }: { at: string; watchdogMs: number; good: string }) {
  return new FormGroup({
    wanted: controlOf(true),
    source: controlOf<string | null>(null),
    pattern: controlOf<HeartbeatWish['pattern']>('counter'),
    at: textControl(at),
    watchdog: textControl(watchdogMs),
    good: textControl(goodAt),
  });
}

/** An address as it is typed for this device. A bit is wanted in a register where a number after a point says which. */
function placeOf(text: string, device: Device, likely: Table): Outcome<FirstPlace> {
  const read = readDeviceAddress(text, device);
  if (!read.ok) return read;
  const { table, offset, bit } = read.value[0]!;
  const place = { table: table ?? likely, offset, bit };
  return likely === 'coil' && !isBitTable(place.table) && bit === null ? bad('Say which bit of the register, as in 40012.3.') : good(place);
}
