import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, untracked } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { formatAddress, LAST_OFFSET, readDeviceAddress } from '@plain-envoy/core/address';
import { type Change, type Point, pointWidth } from '@plain-envoy/core/model';
import { good, type Outcome } from '@plain-envoy/core/outcome';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { controlOf, textControl } from '../../parts/controls';
import { focusOnOpen } from '../../parts/focus';
import { addressOf } from '../../parts/format';
import { PointShape } from '../../parts/point-shape';
import { type FirstPlace, inOrder, type InOrderRow } from '@plain-envoy/core/making';
import { Choose } from '../../parts/choose';
import { named, roundOptions } from '../../parts/named';
import { settle, problemIn, refuseIn, textValidator, valueIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

/** Carries the chosen points in order, from a first register on; what would be made is shown before it is. */
@Component({
  selector: 'pe-order-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, Choose, MatButtonModule, MatCheckboxModule, PointShape, ReactiveFormsModule, SearchField, Table, TextField],
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

  protected readonly other = computed(() => this.project.devices().get(this.otherId())!);
  private readonly otherPoints = computed(() => this.project.pointsOf().get(this.otherId()) ?? []);
  /** Begun anew for each device on the other side. */
  protected readonly form = computed(() => {
    this.otherId();
    return untracked(() => {
      const readable = textValidator((text) => {
        const reading = this.readingOf(text);
        return reading.ok ? null : reading.problem.message;
      });
      const form = new FormGroup({
        first: textControl('', readable),
        before: textControl(''),
        makes: controlOf(true),
        round: controlOf(this.rounds()[0]?.id ?? ''),
        carrier: controlOf(''),
      });
      form.controls.first.markAsTouched();
      return form;
    });
  });
  protected readonly problem = problemIn(this.form);
  private readonly typed = valueIn(this.form);
  protected readonly rounds = computed(() => this.project.document()!.rounds);
  protected readonly carriers = computed(() => this.project.document()!.devices.filter(({ kind }) => kind !== 'field'));
  protected readonly roundOptions = computed(() => roundOptions(this.rounds()));
  protected readonly carrierOptions = computed(() => named(this.carriers()));
  private readonly proposedFirst = computed(() =>
    formatAddress(this.first() ?? this.firstFree(), this.other().notation, this.other().areas),
  );
  /** Of which device the points are: it stands before the names of those that are made. */
  private readonly nameOfSource = computed(() => this.project.devices().get(this.chosen()[0]?.deviceId ?? '')?.name ?? '');
  /** The first register as it was typed, and what it was taken for. */
  protected readonly reading = computed(() => this.readingOf(this.typed().first));
  protected readonly note = computed(() => {
    const reading = this.reading();
    return reading.ok ? reading.value.why : '';
  });
  protected readonly rows = computed((): InOrderRow[] => {
    const reading = this.reading();
    const document = this.project.document()!;
    const { makes, before, round, carrier } = this.typed();
    if (!reading.ok) return [];
    return inOrder({
      chosen: this.chosen(),
      side: this.side(),
      other: { deviceId: this.otherId(), projectId: document.project.id, points: this.otherPoints() },
      first: reading.value.place,
      makeWith: makes ? before.trim() : null,
      roundId: round,
      carrierId: carrier || null,
      routes: document.routes,
      newId,
    });
  });
  protected readonly sound = computed(() => this.rows().filter(({ route }) => route !== null));
  protected readonly newPoints = computed(() => this.sound().filter(({ isNew }) => isNew).length);

  protected readonly idOf = ({ chosen }: InOrderRow): string => chosen.id;
  protected readonly classOf = ({ route }: InOrderRow): string => (route ? '' : 'refused');
  protected readonly columns = computed((): readonly Column<InOrderRow>[] => [
    { name: 'number', head: '', text: (row) => this.rows().indexOf(row) + 1, kind: 'number quiet' },
    { name: 'chosen', head: this.side() === 'source' ? 'From' : 'To' },
    { name: 'place', head: 'Address', text: ({ chosen }) => this.place(chosen), kind: 'mono quiet' },
    { name: 'arrow', head: '', text: () => (this.side() === 'source' ? '⟶' : '⟵'), kind: 'arrow' },
    { name: 'there', head: 'Address', text: ({ other }) => this.place(other), kind: 'mono quiet' },
    {
      name: 'other',
      head: this.side() === 'source' ? 'To' : 'From',
      text: ({ other, isNew }) => `${other?.name ?? ''}${isNew ? ' (new)' : ''}`,
    },
    {
      ...{ name: 'said', head: 'Carries', kind: 'what' },
      text: ({ problem, route }) => problem ?? (route?.carry === 'registers' ? 'registers as they are' : 'the value'),
      classOf: ({ route }) => (route ? '' : 'bad'),
    },
  ]);

  constructor() {
    focusOnOpen();
    // Pointing at another register, or choosing other points, changes what depends on it and leaves the rest as it was typed.
    effect(() => this.form().controls.first.setValue(this.proposedFirst()));
    effect(() => this.form().controls.before.setValue(this.nameOfSource()));
    effect(() => this.form().controls.carrier.setValue(this.carrier() ?? ''));
  }

  protected place(point: Point | null): string {
    return point ? addressOf(point, this.project.devices().get(point.deviceId)) : '';
  }

  protected make(): void {
    const rows = this.sound();
    if (rows.length === 0) return refuseIn(this.form(), { message: 'None of these can be carried.', path: [] });
    const changes = rows.flatMap(({ other, isNew, route }): Change[] => [
      ...(isNew ? [{ entity: 'point' as const, id: other!.id, before: null, after: other! }] : []),
      { entity: 'route', id: route!.id, before: null, after: route! },
    ]);
    const text = `${rows.length} route${rows.length === 1 ? '' : 's'}`;
    this.store.commit(`Carry in order: ${text}`, changes).subscribe((answer) => {
      if (!settle(this.form(), answer)) return;
      this.editor.say(`Made: ${text}${this.newPoints() ? ` and ${this.newPoints()} points` : ''}. Ctrl+Z takes them back.`);
      this.made.emit();
    });
  }

  private readingOf(text: string): Outcome<{ place: FirstPlace; why: string }> {
    const read = readDeviceAddress(text, this.other());
    if (!read.ok) return read;
    const { table, offset, bit, why } = read.value[0]!;
    return good({ place: { table: table ?? this.likelyTable(), offset, bit }, why });
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
