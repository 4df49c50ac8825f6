import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, model, signal, viewChild } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { type BitState, namedBits, type Point, Radix, rawText, readText, type WatchItem, WatchList } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Hands } from '../../data/hands';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { Samples } from '../../data/samples';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { addressOf, ageText } from '../../parts/format';
import { PointShape } from '../../parts/point-shape';
import { textControl } from '../../parts/controls';
import { QualityMark, reasonIn, worstQuality } from '../../parts/quality';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { named } from '../../parts/named';
import { problemIn, refuseIn, settle } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatMenuModule } from '@angular/material/menu';
import { TilesView } from './tiles-view';
import { doubtOf, saidOf, type WatchRow, watchRows } from './watch-rows';

const SPARK = { width: 54, height: 16 };

/** Lists of what somebody wants to look at: routes with both their ends, and any points, each as it is written and as it is meant. */
@Component({
  selector: 'pe-watch-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CellTemplate,
    Choose,
    MatButtonModule,
    MatCheckboxModule,
    MatMenuModule,
    PointShape,
    QualityMark,
    ReactiveFormsModule,
    SearchField,
    Table,
    TextField,
    TilesView,
  ],
  templateUrl: './watch-view.html',
  styleUrls: ['./view.scss', './watch-view.scss'],
})
export class WatchView {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices', 'points', 'pointsOf');
  private readonly editor = inject(Editor);
  protected readonly hands = atEdge(inject(Hands), 'forced');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'now');
  private readonly plan = atEdge(inject(PlanStore), 'doubts');
  /** What is drawn over time. */
  readonly plotted = model.required<readonly string[]>();

  protected readonly SPARK = SPARK;
  protected readonly radixes = Radix.options;
  protected readonly radixOptions = asOptions(Radix.options);
  protected readonly listOptions = computed(() =>
    this.lists().map(({ id, name, items }) => ({ value: id, text: `${name} (${items.length})` })),
  );
  protected readonly deviceOptions = computed(() => named(this.devices()));
  protected readonly listForm = new FormGroup({ name: textControl('') });
  protected readonly problem = problemIn(() => this.listForm);
  protected readonly lists = computed(() => this.project.document()!.watchLists);
  protected readonly listId = linkedSignal<string>(() => {
    const lists = this.lists();
    return lists.some(({ id }) => id === this.kept) ? this.kept : (lists[0]?.id ?? '');
  });
  private kept = '';
  protected readonly list = computed(() => this.lists().find(({ id }) => id === this.listId()) ?? null);
  protected readonly rows = computed((): WatchRow[] => {
    const list = this.list();
    return list ? watchRows(list, this.project.document()!, this.project.points()) : [];
  });
  protected readonly asTiles = signal(false);
  private readonly table = viewChild<Table<WatchRow>>(Table);
  /** Only what can be seen is asked for and drawn. */
  private readonly inView = computed(() => this.table()?.inView() ?? []);
  protected readonly chosen = signal<ReadonlySet<string> | null>(new Set());
  protected readonly idOf = ({ index }: WatchRow): string => String(index);
  protected readonly only = (row: WatchRow): ReadonlySet<string> => new Set([this.idOf(row)]);
  protected readonly classOf = ({ route }: WatchRow): string => (route && this.hands.forced().has(route.id) ? 'forced' : '');
  protected readonly columns: readonly Column<WatchRow>[] = [
    { name: 'plot', head: 'plot', hint: 'Space draws it over time' },
    { name: 'name', head: 'What', more: ({ name }) => name, kind: 'cut', by: ({ name }) => name },
    { name: 'from', head: 'From', more: ({ source }) => this.where(source), kind: 'cut' },
    { name: 'raw', head: 'raw', text: (row) => this.raw(row.source, row.radix), kind: 'mono number cut' },
    { name: 'value', head: 'value', more: ({ source }) => this.value(source), kind: 'mono number value' },
    { name: 'steps', head: '', text: ({ route, steps }) => (route ? `⟶ ${steps}` : ''), more: ({ steps }) => steps, kind: 'carried' },
    { name: 'to', head: 'To', more: ({ destination }) => (destination ? this.where(destination) : ''), kind: 'cut' },
    {
      name: 'destination-raw',
      head: 'raw',
      text: ({ destination, radix }) => (destination ? this.raw(destination, radix) : ''),
      kind: 'mono number cut',
    },
    {
      name: 'destination-value',
      head: 'value',
      text: ({ destination }) => (destination ? this.value(destination) : ''),
      more: ({ destination }) => (destination ? this.value(destination) : ''),
      kind: 'mono number value',
    },
    { name: 'spark', head: 'of late' },
    { name: 'quality', head: 'Quality', more: (row) => this.reason(row) },
    { name: 'age', head: 'Age', text: (row) => this.age(row), kind: 'mono number' },
    { name: 'rate', head: 'Rate', text: (row) => this.rate(row), kind: 'mono number' },
    { name: 'radix', head: 'as', hint: 'How its registers are shown' },
  ];

  protected readonly addingDevice = signal('');
  protected readonly devices = computed(() => this.project.document()!.devices.filter(({ id }) => this.project.pointsOf().get(id)?.length));
  protected readonly choices = computed((): Option<string>[] => {
    const deviceId = this.addingDevice();
    const device = this.project.devices().get(deviceId);
    if (!device) return this.project.document()!.routes.map(({ id, name }) => ({ value: `route ${id}`, text: name }));
    const points = this.project.pointsOf().get(deviceId) ?? [];
    return points.map((point) => ({ value: `point ${point.id}`, text: point.name, more: addressOf(point, device) }));
  });

  protected readonly readings = rowsFor(this.feed.points, () =>
    this.inView().flatMap(({ source, destination }) => (destination ? [source.id, destination.id] : [source.id])),
  );
  private readonly states = rowsFor(this.feed.routes, () => this.inView().flatMap(({ route }) => (route ? [route.id] : [])));
  private readonly samples = new Samples();

  constructor() {
    effect(() => {
      this.live.now();
      const readings = this.readings();
      for (const { source } of this.inView()) this.samples.take(source, readings.get(source.id));
    });
  }

  protected where(point: Point): string {
    const device = this.project.devices().get(point.deviceId);
    return `${device?.name} ${addressOf(point, device)}`;
  }

  private raw(point: Point, radix: Radix): string {
    return rawText(this.readings().get(point.id)?.words, point, radix);
  }

  protected value(point: Point): string {
    return readText(this.readings().get(point.id)?.words, point);
  }

  protected quality(row: WatchRow) {
    return worstQuality(saidOf(row, this.readings(), this.states()), doubtOf(row, this.plan.doubts()));
  }

  protected reason(row: WatchRow): string {
    return reasonIn(saidOf(row, this.readings(), this.states()), doubtOf(row, this.plan.doubts()));
  }

  protected age({ source }: WatchRow): string {
    return ageText(this.readings().get(source.id)?.atMs, this.live.now());
  }

  protected rate({ source }: WatchRow): string {
    this.live.now();
    const rate = this.samples.rate(source.id);
    return rate === null ? '' : `${rate < 10 ? rate.toFixed(1) : rate.toFixed(0)}/s`;
  }

  protected spark({ source }: WatchRow): string {
    this.live.now();
    return this.samples.line(source.id, SPARK.width, SPARK.height);
  }

  /** Named bits as lamps; null where there is none to show. */
  protected lamps(point: Point): BitState[] | null {
    const bits = namedBits(this.readings().get(point.id)?.words, point);
    return bits.length ? bits : null;
  }

  protected plot({ source, destination }: WatchRow): void {
    const ids = destination ? [source.id, destination.id] : [source.id];
    const plotted = this.plotted();
    this.plotted.set(plotted.includes(source.id) ? plotted.filter((id) => !ids.includes(id)) : [...plotted, ...ids].slice(-8));
  }

  protected key(event: KeyboardEvent, row: WatchRow): void {
    if (event.key === 'Delete') return this.change({ items: this.list()!.items.filter((item) => item !== row.item) });
    if (event.key === ' ') {
      event.preventDefault();
      this.plot(row);
    }
  }

  protected turnRadix(row: WatchRow, radix: string): void {
    const changed: WatchItem = { ...row.item, radix: (radix || null) as Radix | null };
    this.change({ items: this.list()!.items.map((item) => (item === row.item ? changed : item)) });
  }

  /** One row, or all points of the device that is chosen. */
  protected add(values: readonly string[]): void {
    const items = values.flatMap((value): WatchItem[] => {
      const [of, id] = value.split(' ');
      return id ? [{ of: of as WatchItem['of'], id, radix: null }] : [];
    });
    if (items.length === 0) return;
    const list = this.list();
    if (list) this.change({ items: [...list.items, ...items] });
    else this.create('What I watch', items);
  }

  /** What is added next; the first there is, until something is chosen. */
  protected readonly adding = linkedSignal(() => this.choices()[0]?.value ?? '');

  protected createNamed(): void {
    this.create(this.listForm.getRawValue().name);
  }

  protected allOf(): string[] {
    return this.choices().map(({ value }) => value);
  }

  protected create(name: string, items: WatchItem[] = []): void {
    const projectId = this.project.document()!.project.id;
    const list: WatchList = { id: newId(), projectId, name: name.trim(), radix: 'decimal', items };
    const parsed = WatchList.safeParse(list);
    if (!parsed.success) return refuseIn(this.listForm, { message: parsed.error.issues[0]!.message, path: ['name'] });
    this.store.commit(`Make list ${list.name}`, [{ entity: 'watchList', id: list.id, before: null, after: list }]).subscribe((answer) => {
      if (!settle(this.listForm, answer)) return;
      this.listForm.reset();
      this.choose(list.id);
    });
  }

  protected remove(): void {
    const list = this.list();
    if (!list) return;
    this.store.commit(`Delete list ${list.name}`, [{ entity: 'watchList', id: list.id, before: list, after: null }]).subscribe((answer) => {
      if (settle(this.listForm, answer)) this.editor.say(`Deleted: ${list.name}. Undo with Ctrl+Z.`);
    });
  }

  protected choose(listId: string): void {
    this.kept = listId;
    this.listId.set(listId);
  }

  protected change(fields: Partial<WatchList>): void {
    const before = this.list();
    if (!before) return;
    const after = { ...before, ...fields };
    this.kept = before.id;
    this.store
      .commit(`Change list ${before.name}`, [{ entity: 'watchList', id: before.id, before, after }])
      .subscribe((answer) => settle(this.listForm, answer));
  }
}
