import { ChangeDetectionStrategy, Component, computed, inject, input, output, viewChild } from '@angular/core';
import { type Point, rawText, type Route, readText } from '@plain-envoy/core/model';
import { rowsFor } from '../data/feed-topic';
import { Live } from '../data/live';
import { PlanStore } from '../data/plan';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { addressOf, ageText } from './format';
import { PointShape } from './point-shape';
import { doubtOn, QualityMark, reasonIn, type Said, type ShownQuality, worstQuality } from './quality';
import { CellTemplate, type Column } from './table/column';
import { Table } from './table/table';
import { describeChain } from '@plain-envoy/core/steps';

interface Row {
  route: Route;
  source: Point;
  destination: Point;
  from: string;
  to: string;
  /** What is done to the value on its way, in a few words. */
  steps: string;
}

/** Routes as a table: raw registers and value at both ends, how far to trust them, and how old they are. */
@Component({
  selector: 'pe-route-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, PointShape, QualityMark, Table],
  templateUrl: './route-table.html',
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-height: 0;
    }
  `,
})
export class RouteTable {
  private readonly project = atEdge(inject(ProjectStore), 'devices', 'points');
  private readonly plan = atEdge(inject(PlanStore), 'findings', 'doubts');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'now', 'running');
  readonly routes = input.required<readonly Route[]>();
  readonly chosen = input<string | null>(null);
  readonly choose = output<Route>();
  /** Only these columns; all where it is left out. */
  readonly only = input<readonly string[] | null>(null);
  readonly nothing = input('There are no routes here yet. Make the first one in Routes.');

  private readonly stopped = computed(
    () =>
      new Map(
        this.plan
          .findings()
          .filter(({ severity }) => severity === 'stop')
          .map(({ at, message }) => [at.id, message]),
      ),
  );
  protected readonly rows = computed((): Row[] =>
    this.routes().flatMap((route) => {
      const source = this.project.points().get(route.sourceId);
      const destination = this.project.points().get(route.destinationId);
      if (!source || !destination) return [];
      return [
        {
          route,
          source,
          destination,
          from: this.where(source),
          to: this.where(destination),
          steps: describeChain(route.transforms),
        },
      ];
    }),
  );

  protected readonly idOf = ({ route }: Row): string => route.id;
  protected readonly chosenIds = computed(() => new Set([this.chosen()].filter((id) => id !== null)));
  private readonly table = viewChild.required<Table<Row>>(Table);
  private readonly readings = rowsFor(this.feed.points, () =>
    this.table()
      .inView()
      .flatMap(({ source, destination }) => [source.id, destination.id]),
  );
  private readonly states = rowsFor(this.feed.routes, () =>
    this.table()
      .inView()
      .map(({ route }) => route.id),
  );
  private readonly raw = (point: Point): string => rawText(this.readings().get(point.id)?.words, point);
  private readonly value = (point: Point): string => readText(this.readings().get(point.id)?.words, point);

  protected readonly columns = computed(() => this.all.filter(({ name }) => this.only()?.includes(name) ?? true));
  private readonly all: readonly Column<Row>[] = [
    {
      name: 'route',
      head: 'Route',
      text: ({ route }) => route.name,
      more: ({ route }) => route.name,
      kind: 'cut',
      by: ({ route }) => route.name,
    },
    { name: 'from', head: 'From', by: ({ from }) => from },
    {
      name: 'source-raw',
      head: 'raw',
      text: ({ source }) => this.raw(source),
      more: ({ source }) => this.raw(source),
      kind: 'mono number raw',
    },
    {
      name: 'source-value',
      head: 'value',
      text: ({ source }) => this.value(source),
      more: ({ source }) => this.value(source),
      kind: 'mono number value',
    },
    { name: 'steps', head: 'Carries', text: ({ steps }) => `⟶ ${steps}`, more: ({ steps }) => steps, kind: 'carried' },
    { name: 'to', head: 'To', by: ({ to }) => to },
    {
      name: 'destination-raw',
      head: 'raw',
      text: ({ destination }) => this.raw(destination),
      more: ({ destination }) => this.raw(destination),
      kind: 'mono number raw',
    },
    {
      name: 'destination-value',
      head: 'value',
      text: ({ destination }) => this.value(destination),
      more: ({ destination }) => this.value(destination),
      kind: 'mono number value',
    },
    { name: 'quality', head: 'Quality', more: (row) => this.reason(row) },
    { name: 'age', head: 'Age', text: (row) => this.age(row), kind: 'mono number' },
  ];

  /** The worst of the three: what was read, what was written, and what is now found at the destination. */
  protected quality({ route, source, destination }: Row): ShownQuality | null {
    if (!this.live.running()) return null;
    if (this.stopped().has(route.id)) return 'bad';
    return worstQuality(this.saidOf({ route, source, destination }), doubtOn(this.plan.doubts(), route));
  }

  protected reason({ route, source, destination }: Row): string {
    return this.stopped().get(route.id) ?? reasonIn(this.saidOf({ route, source, destination }), doubtOn(this.plan.doubts(), route));
  }

  private saidOf({ route, source, destination }: Pick<Row, 'route' | 'source' | 'destination'>): Said[] {
    return [this.readings().get(source.id), this.states().get(route.id), this.readings().get(destination.id)];
  }

  /** How old the value at the destination is: the time since it was read at its source. */
  protected age({ route }: Row): string {
    return ageText(this.states().get(route.id)?.sourceAtMs, this.live.now());
  }

  private where(point: Point): string {
    const device = this.project.devices().get(point.deviceId);
    return `${device?.name} ${addressOf(point, device)}`;
  }
}
