import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { formatAddress, LAST_OFFSET, readAddress } from '@plain-envoy/core/address';
import { type Change, type Point, pointWidth } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { addressOf } from '../../parts/format';
import { PointShape } from '../../parts/point-shape';
import { type FirstPlace, inOrder, type InOrderRow } from '@plain-envoy/core/making';
import { choiceAmong } from '../../parts/choice';
import { Choose } from '../../parts/choose';
import { named, roundOptions } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

/** Carries the chosen points in order, from a first register on; what would be made is shown before it is. */
@Component({
  selector: 'pe-order-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, PointShape, SearchField, TextField],
  templateUrl: './order-panel.html',
  styleUrls: ['./below-panel.scss', './order-panel.scss'],
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class OrderPanel {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices', 'pointsOf');
  private readonly editor = inject(Editor);
  readonly chosen = input.required<readonly Point[]>();
  readonly side = input.required<'source' | 'destination'>();
  readonly otherId = input.required<string>();
  /** The first register on the other side, where one was pointed at. */
  readonly first = input<Point | null>(null);
  readonly carrier = input<string | null>(null);
  readonly closed = output();
  readonly made = output();

  protected readonly problem = signal<string | null>(null);
  protected readonly other = computed(() => this.project.devices().get(this.otherId())!);
  private readonly otherPoints = computed(() => this.project.pointsOf().get(this.otherId()) ?? []);
  protected readonly firstText = linkedSignal(() => {
    const first = this.first() ?? this.firstFree();
    return formatAddress(first, this.other().notation, this.other().areas);
  });
  protected readonly makes = signal(true);
  /** Before the names of their sources; of which device they are, to begin with. */
  protected readonly before = linkedSignal(() => this.project.devices().get(this.chosen()[0]?.deviceId ?? '')?.name ?? '');
  protected readonly roundId = choiceAmong(computed(() => this.project.document()!.rounds));
  protected readonly rounds = computed(() => this.project.document()!.rounds);
  protected readonly carriers = computed(() => this.project.document()!.devices.filter(({ kind }) => kind !== 'field'));
  protected readonly roundOptions = computed(() => roundOptions(this.rounds()));
  protected readonly carrierOptions = computed(() => named(this.carriers()));
  protected readonly carrierId = linkedSignal(() => this.carrier());
  /** The first register as it was typed, and what it was taken for. */
  protected readonly reading = computed(() => {
    const { notation, areas } = this.other();
    const own = readAddress(this.firstText(), { notation, areas });
    const read = own.ok && own.value.length ? own : readAddress(this.firstText(), { areas });
    if (!read.ok) return { place: null, text: read.problem.message };
    const [best] = read.value;
    const table = best!.table ?? this.likelyTable();
    return { place: { table, offset: best!.offset, bit: best!.bit } satisfies FirstPlace, text: best!.why };
  });
  protected readonly rows = computed((): InOrderRow[] => {
    const { place } = this.reading();
    const document = this.project.document()!;
    if (!place) return [];
    return inOrder({
      chosen: this.chosen(),
      side: this.side(),
      other: { deviceId: this.otherId(), projectId: document.project.id, points: this.otherPoints() },
      first: place,
      makeWith: this.makes() ? this.before().trim() : null,
      roundId: this.roundId(),
      carrierId: this.carrierId(),
      routes: document.routes,
      newId,
    });
  });
  protected readonly sound = computed(() => this.rows().filter(({ route }) => route !== null));
  protected readonly newPoints = computed(() => this.sound().filter(({ isNew }) => isNew).length);

  constructor() {
    focusOnOpen();
  }

  protected place(point: Point | null): string {
    return point ? addressOf(point, this.project.devices().get(point.deviceId)) : '';
  }

  protected make(): void {
    const rows = this.sound();
    if (rows.length === 0) return this.problem.set(this.reading().place ? 'None of these can be carried.' : this.reading().text);
    const changes = rows.flatMap(({ other, isNew, route }): Change[] => [
      ...(isNew ? [{ entity: 'point' as const, id: other!.id, before: null, after: other! }] : []),
      { entity: 'route', id: route!.id, before: null, after: route! },
    ]);
    const text = `${rows.length} route${rows.length === 1 ? '' : 's'}`;
    this.store.commit(`Carry in order: ${text}`, changes).subscribe((answer) => {
      if (!answer.ok) return this.problem.set(answer.problem.message);
      this.editor.say(`Made: ${text}${this.newPoints() ? ` and ${this.newPoints()} points` : ''}. Ctrl+Z takes them back.`);
      this.made.emit();
    });
  }

  /** Where words alone do not say the table: bits go to coils where the device has any, else into registers. */
  private likelyTable(): FirstPlace['table'] {
    const bits = this.chosen().every(({ type }) => type === 'bit');
    const has = (table: FirstPlace['table']) => this.otherPoints().some((point) => point.table === table);
    if (this.side() === 'destination') return bits ? (has('discrete') ? 'discrete' : 'coil') : has('input') ? 'input' : 'holding';
    return bits && (has('coil') || !has('holding')) ? 'coil' : 'holding';
  }

  private firstFree(): FirstPlace {
    const table = this.likelyTable();
    const ends = this.otherPoints().flatMap((point) => (point.table === table ? point.offset + pointWidth(point) : []));
    return {
      table,
      offset: Math.min(
        LAST_OFFSET,
        ends.reduce((last, end) => Math.max(last, end), 0),
      ),
      bit: null,
    };
  }
}
