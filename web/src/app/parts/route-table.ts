import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output } from '@angular/core';
import { type Point, rawText, type Route, valueText } from '@plain-envoy/core/model';
import { rowsFor } from '../data/feed-topic';
import { Live } from '../data/live';
import { PlanStore } from '../data/plan';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import type { Quality, Reading, RouteState } from '@plain-envoy/core/feed';
import { addressOf, ageText } from './format';
import { arrowStep } from './keys';
import { PointShape } from './point-shape';
import { QualityMark } from './quality';
import { ROW_PX, rowsInView } from './rows-in-view';
import { describeChain } from '@plain-envoy/core/steps';

const WHOLE_ROWS = 150;

interface Row {
  index: number;
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
  imports: [PointShape, QualityMark],
  templateUrl: './route-table.html',
  styles: `
    tr[data-row] {
      height: ${ROW_PX}px;
    }
    [data-row] td {
      padding-block: 2px;
    }
    .carried {
      color: var(--pe-carried);
      font-weight: 600;
      max-width: 120px;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .value {
      font-weight: 600;
      max-width: 130px;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .name {
      max-width: 190px;
      overflow: hidden;
      text-overflow: ellipsis;
    }
  `,
})
export class RouteTable {
  private readonly project = atEdge(inject(ProjectStore), 'devices', 'points');
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'now', 'running');
  readonly routes = input.required<readonly Route[]>();
  readonly chosen = input<string | null>(null);
  readonly choose = output<Route>();
  readonly nothing = input('There are no routes here yet. Make the first one in Routes.');

  protected readonly rawText = rawText;
  protected readonly valueText = valueText;
  protected readonly ageText = ageText;
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
    this.routes().flatMap((route, index) => {
      const source = this.project.points().get(route.sourceId);
      const destination = this.project.points().get(route.destinationId);
      if (!source || !destination) return [];
      return [
        {
          index,
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

  protected readonly window = rowsInView(this.rows);
  /** A short table is looked at as a whole, so that scrolling finds its values there; of a long one what is in view. */
  private readonly looked = computed(() => (this.rows().length <= WHOLE_ROWS ? this.rows() : this.window().rows));
  protected readonly readings = rowsFor(this.feed.points, () =>
    this.looked().flatMap(({ source, destination }) => [source.id, destination.id]),
  );
  private readonly states = rowsFor(this.feed.routes, () => this.looked().map(({ route }) => route.id));
  /** The row that Tab comes to. */
  protected readonly tabbed = computed(() => {
    const { rows } = this.window();
    return (rows.find(({ route }) => route.id === this.chosen()) ?? rows[0])?.index;
  });

  /** The worst of the three: what was read, what was written, and what is now found at the destination. */
  protected quality({ route, source, destination }: Row): Quality | null {
    if (!this.live.running()) return null;
    if (this.stopped().has(route.id)) return 'bad';
    const all = this.saidOf({ route, source, destination }).map((said) => said?.quality);
    return (['bad', 'stale', 'limited', 'sent', 'good'] as const).find((quality) => all.includes(quality)) ?? null;
  }

  protected reason({ route, source, destination }: Row): string {
    const said = this.saidOf({ route, source, destination }).find((row) => row?.reason);
    return this.stopped().get(route.id) ?? said?.reason ?? '';
  }

  private saidOf({ route, source, destination }: Pick<Row, 'route' | 'source' | 'destination'>): (Reading | RouteState | undefined)[] {
    return [this.readings().get(source.id), this.states().get(route.id), this.readings().get(destination.id)];
  }

  /** How old the value at the destination is: the time since it was read at its source. */
  protected age({ route }: Row): string {
    return ageText(this.states().get(route.id)?.sourceAtMs, this.live.now());
  }

  protected key(event: KeyboardEvent, row: Row): void {
    const step = arrowStep(event);
    if (step) {
      event.preventDefault();
      this.element.nativeElement.querySelector<HTMLElement>(`tr[data-row="${row.index + step}"]`)?.focus();
    } else if (event.key === 'Enter') {
      this.choose.emit(row.route);
    }
  }

  private where(point: Point): string {
    const device = this.project.devices().get(point.deviceId);
    return `${device?.name} ${addressOf(point, device)}`;
  }
}
