import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import type { Observable } from 'rxjs';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { isWritable } from '@plain-envoy/core/address';
import { atItsPlace, type Point, rawText, valueText, wordsFromInput } from '@plain-envoy/core/model';
import { Pattern, patternNames } from '@plain-envoy/core/pattern';
import { wholeOf } from '@plain-envoy/core/value';
import type { Answer } from '../../data/api';
import { Hands, type HandEntry } from '../../data/hands';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { addressOf, timeText } from '../../parts/format';
import { typedNumber } from '../../parts/form';
import { choiceAmong } from '../../parts/choice';
import { asOptions, Choose } from '../../parts/choose';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

const kinds = asOptions(Object.keys(patternNames) as Pattern['kind'][], (kind) => patternNames[kind]);
const fields = { low: 'Lowest', high: 'Highest', periodMs: 'Period, ms', everyMs: 'Written every, ms', forMs: 'For, ms' } as const;
type Field = keyof typeof fields;
const blank: Record<Field, string> = { low: '0', high: '100', periodMs: '10000', everyMs: '500', forMs: '60000' };

/** Values by hand: once, several in a row, moving by themselves for a while, or a route kept at a value; and what was done. */
@Component({
  selector: 'pe-write-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule, Choose, SearchField, TextField],
  templateUrl: './write-panel.html',
  styleUrl: './write-panel.scss',
})
export class WritePanel {
  private readonly project = atEdge(inject(ProjectStore), 'document', 'devices', 'onSerialLines', 'pointsOf');
  private readonly doing = inject(Hands);
  protected readonly hands = atEdge(this.doing, 'forced', 'moving');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');
  protected readonly time = timeText;

  protected readonly kinds = kinds;
  protected readonly fields = Object.entries(fields) as [Field, string][];
  protected readonly rawText = rawText;
  protected readonly valueText = valueText;
  protected readonly said = signal<string | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly log = signal<readonly HandEntry[]>([]);

  protected readonly devices = computed(() => this.project.document()!.devices.filter(({ id }) => this.writable(id).length > 0));
  protected readonly deviceId = choiceAmong(this.devices);
  protected readonly points = computed(() => this.writable(this.deviceId()));
  protected readonly pointId = choiceAmong(this.points);
  protected readonly point = computed(() => this.points().find(({ id }) => id === this.pointId()) ?? null);
  protected readonly isOnSerialLine = computed(() => this.project.onSerialLines().has(this.deviceId()));
  /** Off again with each other device, as it is meant for one write only. */
  protected readonly broadcast = linkedSignal({ source: this.deviceId, computation: () => false });
  protected readonly typed = signal('');
  /** Several lines, or cells of a row, go to the points that follow. */
  protected readonly parts = computed(() =>
    this.typed()
      .split(/\r?\n|\t/)
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
  protected readonly forced = signal('');
  /** Several values are seen as they are typed. */
  protected readonly lines = computed(() => Math.min(6, this.typed().split('\n').length));

  protected readonly patternKind = signal<Pattern['kind']>('ramp');
  protected readonly typedPattern = signal<Record<Field, string>>(blank);
  protected readonly isMoving = signal(false);

  protected readonly routes = computed(() => this.project.document()!.routes);
  protected readonly routeId = choiceAmong(this.routes);
  protected readonly forcedRows = computed(() =>
    [...this.hands.forced()].map(([id, text]) => ({ id, text, name: this.routes().find((route) => route.id === id)?.name ?? 'a route' })),
  );

  protected readonly readings = rowsFor(this.feed.points, () => (this.pointId() ? [this.pointId()] : []));

  constructor() {
    this.reload();
  }

  protected address(point: Point): string {
    return addressOf(point, this.project.devices().get(point.deviceId));
  }

  protected write(): void {
    const point = this.point();
    const parts = this.parts();
    if (!point || parts.length === 0) return this.problem.set('Type a value first.');
    const broadcast = this.broadcast();
    if (parts.length === 1) return this.tell(this.doing.write(point.id, parts[0]!, broadcast));
    const from = this.points().indexOf(point);
    const targets = this.points().slice(from, from + parts.length);
    if (targets.length < parts.length) return this.problem.set(`Only ${targets.length} points follow; ${parts.length} values were typed.`);
    return this.tell(this.doing.writeBlock(targets.map(({ id }, index) => ({ pointId: id, value: parts[index]!, broadcast }))));
  }

  /** Turns one bit of the word over; the others stay as they were read. */
  protected turnBit(bit: number): void {
    const point = this.point()!;
    const words = this.readings().get(point.id)?.words;
    if (!words) return this.problem.set('The register has not been read yet, so its other bits are not known.');
    const whole = wholeOf(words) ^ (1n << BigInt(bit));
    return this.tell(this.doing.write(point.id, `0x${whole.toString(16)}`));
  }

  protected isOn(bit: number): boolean {
    const words = this.readings().get(this.pointId())?.words ?? [];
    return ((wholeOf(words) >> BigInt(bit)) & 1n) === 1n;
  }

  protected typePattern(field: Field, text: string): void {
    this.typedPattern.update((typed) => ({ ...typed, [field]: text }));
  }

  protected move(): void {
    const typed = this.typedPattern();
    const numbers = Object.fromEntries(this.fields.map(([field]) => [field, typedNumber(typed[field])]));
    const parsed = Pattern.safeParse({ kind: this.patternKind(), ...numbers });
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      return this.problem.set(`${fields[String(issue?.path[0]) as Field] ?? ''}: ${issue?.message ?? ''}`);
    }
    this.tell(this.doing.move(this.pointId(), parsed.data));
  }

  protected endMove(id: string): void {
    this.doing.endMove(id).subscribe((answer) => this.problem.set(answer.ok ? null : answer.problem.message));
  }

  protected force(): void {
    this.tell(this.doing.force(this.routeId(), this.forced()));
  }

  protected release(routeId: string): void {
    this.tell(this.doing.force(routeId, null));
  }

  private tell(doing: Observable<Answer<{ sentence: string }>>): void {
    doing.subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      this.said.set(answer.ok ? answer.value.sentence : null);
      this.reload();
    });
  }

  private reload(): void {
    this.doing.list().subscribe((answer) => {
      if (answer.ok) this.log.set(answer.value);
    });
  }

  private writable(deviceId: string): Point[] {
    return (this.project.pointsOf().get(deviceId) ?? []).filter(({ access, table }) => access !== 'read' && isWritable(table));
  }
}
