import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import type { Observable } from 'rxjs';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import {
  atItsPlace,
  canBeWritten,
  namedBits,
  type Point,
  rawText,
  valueText,
  withBitTurned,
  wordsFromInput,
} from '@plain-envoy/core/model';
import { Pattern, patternNames } from '@plain-envoy/core/pattern';
import type { Answer } from '../../data/api';
import { Hands, type HandEntry } from '../../data/hands';
import { want } from '@plain-envoy/core/settings';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { addressOf, timeText } from '../../parts/format';
import { typedNumber } from '../../parts/form';
import { choiceAmong } from '../../parts/choice';
import { asOptions, Choose } from '../../parts/choose';
import { controlOf, textControl } from '../../parts/controls';
import { problemIn, readGroup, refuseIn, schemaValidator, settle, valueIn } from '../../parts/schema-group';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';

const kinds = asOptions(Object.keys(patternNames) as Pattern['kind'][], (kind) => patternNames[kind]);
const fields = { low: 'Lowest', high: 'Highest', periodMs: 'Period, ms', everyMs: 'Written every, ms', forMs: 'For, ms' } as const;
type Field = keyof typeof fields;

/** Values by hand: once, several in a row, moving by themselves for a while, or a route kept at a value; and what was done. */
@Component({
  selector: 'pe-write-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule, Choose, ReactiveFormsModule, SearchField, Table, TextField],
  templateUrl: './write-panel.html',
  styleUrl: './write-panel.scss',
})
export class WritePanel {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices', 'onSerialLines', 'pointsOf');
  private readonly doing = inject(Hands);
  protected readonly hands = atEdge(this.doing, 'forced', 'moving');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');

  protected readonly kinds = kinds;
  protected readonly fields = Object.entries(fields) as [Field, string][];
  protected readonly rawText = rawText;
  protected readonly valueText = valueText;
  protected readonly said = signal<string | null>(null);
  protected readonly form = new FormGroup({ value: textControl(''), broadcast: controlOf(false), wanted: controlOf(false) });
  private readonly typed = valueIn(() => this.form);
  private readonly pattern = {
    schema: Pattern,
    from: ({ kind, ...typed }: { kind: Pattern['kind'] } & Record<Field, string>) => ({
      kind,
      ...Object.fromEntries(this.fields.map(([field]) => [field, typedNumber(typed[field])])),
    }),
  };
  protected readonly moveForm = new FormGroup(
    {
      kind: controlOf<Pattern['kind']>('ramp'),
      low: textControl(0),
      high: textControl(100),
      periodMs: textControl(10_000),
      everyMs: textControl(500),
      forMs: textControl(60_000),
    },
    schemaValidator(this.pattern),
  );
  protected readonly forceForm = new FormGroup({ value: textControl('') });
  private readonly problems = [this.form, this.moveForm, this.forceForm].map((form: FormGroup) => problemIn(() => form));
  protected readonly problem = computed(() => this.problems.map((problem) => problem()).find((text) => text !== null) ?? null);
  protected readonly log = signal<readonly HandEntry[]>([]);
  protected readonly entryOf = ({ id }: HandEntry): string => id;
  protected readonly logColumns: readonly Column<HandEntry>[] = [
    { name: 'at', head: 'When', text: ({ atMs }) => timeText(atMs), kind: 'mono' },
    { name: 'what', head: 'What was done by hand', text: ({ sentence, by }) => `${sentence}${by ? ` (${by})` : ''}`, kind: 'what' },
    { name: 'revision', head: 'revision', text: ({ revision }) => revision, kind: 'mono number' },
  ];

  protected readonly devices = computed(() => this.project.document()!.devices.filter(({ id }) => this.writable(id).length > 0));
  protected readonly deviceId = choiceAmong(this.devices);
  protected readonly points = computed(() => this.writable(this.deviceId()));
  protected readonly pointId = choiceAmong(this.points);
  protected readonly point = computed(() => this.points().find(({ id }) => id === this.pointId()) ?? null);
  protected readonly isOnSerialLine = computed(() => this.project.onSerialLines().has(this.deviceId()));
  /** Several lines, or cells of a row, go to the points that follow. */
  protected readonly parts = computed(() =>
    this.typed()
      .value.split(/\r?\n|\t/)
      .filter((part) => part.trim() !== ''),
  );
  protected readonly preview = computed(() => {
    const point = this.point();
    const [first] = this.parts();
    if (!point || first === undefined) return '';
    if (this.parts().length > 1) return `${this.parts().length} values, from ${point.name} on`;
    const words = wordsFromInput(first, point);
    return words.ok ? `${valueText(atItsPlace(words.value, point), point)} as ${rawText(words.value, point)}` : words.problem.message;
  });

  protected readonly deviceOptions = computed(() => named(this.devices()));
  protected readonly pointOptions = computed(() =>
    this.points().map((point) => ({ value: point.id, text: point.name, more: this.address(point) })),
  );
  protected readonly routeOptions = computed(() => named(this.routes()));
  /** Several values are seen as they are typed. */
  protected readonly lines = computed(() => Math.min(6, this.typed().value.split('\n').length));

  protected readonly isMoving = signal(false);

  protected readonly routes = computed(() => this.project.document()!.routes);
  protected readonly routeId = choiceAmong(this.routes);
  protected readonly forcedRows = computed(() =>
    [...this.hands.forced()].map(([id, text]) => ({ id, text, name: this.routes().find((route) => route.id === id)?.name ?? 'a route' })),
  );

  protected readonly readings = rowsFor(this.feed.points, () => (this.pointId() ? [this.pointId()] : []));

  protected readonly bits = computed(() => {
    const point = this.point();
    const words = point && this.readings().get(point.id)?.words;
    // Before it was read they are there, and pressing one says why it cannot be turned.
    if (point?.type !== 'bits') return [];
    return words ? namedBits(words, point) : point.bits.map((bit) => ({ ...bit, on: false }));
  });

  constructor() {
    this.reload();
    // A broadcast is meant for one device only.
    effect(() => {
      this.deviceId();
      this.form.controls.broadcast.setValue(false);
    });
  }

  protected address(point: Point): string {
    return addressOf(point, this.project.devices().get(point.deviceId));
  }

  protected write(): void {
    const point = this.point();
    const parts = this.parts();
    if (!point || parts.length === 0) return refuseIn(this.form, { message: 'Type a value first.', path: ['value'] });
    const { broadcast } = this.typed();
    if (parts.length === 1) return this.tell(this.form, this.doing.write(point.id, parts[0]!, broadcast), () => this.want([point], parts));
    const from = this.points().indexOf(point);
    const targets = this.points().slice(from, from + parts.length);
    if (targets.length < parts.length) {
      const message = `Only ${targets.length} points follow; ${parts.length} values were typed.`;
      return refuseIn(this.form, { message, path: ['value'] });
    }
    const writes = targets.map(({ id }, index) => ({ pointId: id, value: parts[index]!, broadcast }));
    return this.tell(this.form, this.doing.writeBlock(writes), () => this.want(targets, parts));
  }

  /** Turns one bit of the word over; the others stay as they were read. */
  protected turnBit(bit: number): void {
    const point = this.point()!;
    const words = this.readings().get(point.id)?.words;
    if (!words) return refuseIn(this.form, { message: 'The register has not been read yet, so its other bits are not known.', path: [] });
    const turned = withBitTurned(words, point, bit) ?? [];
    return this.tell(this.form, this.doing.write(point.id, turned.map((word) => `0x${word.toString(16)}`).join(' ')));
  }

  protected move(): void {
    const pattern = readGroup(this.moveForm, this.pattern);
    if (pattern) this.tell(this.moveForm, this.doing.move(this.pointId(), pattern));
  }

  protected endMove(id: string): void {
    this.doing.endMove(id).subscribe((answer) => settle(this.moveForm, answer));
  }

  protected force(): void {
    this.tell(this.forceForm, this.doing.force(this.routeId(), this.forceForm.getRawValue().value));
  }

  protected release(routeId: string): void {
    this.tell(this.forceForm, this.doing.force(routeId, null));
  }

  private tell(form: FormGroup, doing: Observable<Answer<{ sentence: string }>>, then: () => void = () => undefined): void {
    doing.subscribe((answer) => {
      const isDone = settle(form, answer);
      this.said.set(isDone ? answer.value.sentence : null);
      this.reload();
      if (isDone) then();
    });
  }

  /** What was written is what these settings shall be from now on, where that is asked. */
  private want(points: readonly Point[], texts: readonly string[]): void {
    if (!this.typed().wanted) return;
    const label = `${points.length === 1 ? points[0]!.name : `${points.length} points`} wanted as written`;
    this.store
      .commit(
        label,
        points.map((point, index) => want(point, texts[index]!)),
      )
      .subscribe((answer) => {
        if (settle(this.form, answer)) this.said.update((text) => `${text} It is kept as wanted.`);
      });
  }

  private reload(): void {
    this.doing.list().subscribe((answer) => {
      if (answer.ok) this.log.set(answer.value);
    });
  }

  private writable(deviceId: string): Point[] {
    return (this.project.pointsOf().get(deviceId) ?? []).filter(canBeWritten);
  }
}
