import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  model,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Series } from '@plain-envoy/core/feed';
import { LineChart } from 'echarts/charts';
import { DataZoomComponent, GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { NgxEchartsDirective, provideEchartsCore } from 'ngx-echarts';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { paintOf, themeChanges } from '../../parts/paint';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

echarts.use([LineChart, GridComponent, LegendComponent, DataZoomComponent, TooltipComponent, CanvasRenderer]);

const LOOK_EACH_MS = 1000;
const HOUR_MS = 3_600_000;
const spans = [
  { ms: 60_000, name: '1 min' },
  { ms: 300_000, name: '5 min' },
  { ms: 900_000, name: '15 min' },
  { ms: HOUR_MS, name: '1 h' },
];
const figureNames = { last: 'last', low: 'lowest', mean: 'mean', high: 'highest' };
/** Lines are told apart by dash and shape too, never by colour alone. */
const dashes = ['solid', 'dashed', 'dotted', [8, 3, 2, 3], [2, 2], [12, 4], [4, 4, 1, 4], [1, 3]];

/** A value that is drawn, with its figures over the span that is shown. */
interface Row {
  pointId: string;
  name: string;
  unit: string;
  /** Why it may be wrong although it was read. */
  doubt: string;
  last: string;
  low: string;
  mean: string;
  high: string;
}

/** Chosen values over time, from the hour that the server keeps of them, and the same as a table. */
@Component({
  selector: 'pe-plot-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatButtonModule, NgxEchartsDirective, Table],
  providers: [provideEchartsCore({ echarts })],
  templateUrl: './plot-view.html',
  styles: `
    :host {
      display: flex;
      gap: 12px;
      height: 100%;
      flex: none;
      padding: 6px 16px 12px;
      box-sizing: border-box;
    }
    .chart {
      flex: 1;
      min-width: 0;
    }
    .side {
      --pe-cut: 200px;
      width: 560px;
      overflow: auto;
    }
    .tools {
      display: flex;
      gap: 6px;
      align-items: center;
      margin-bottom: 6px;
    }
    button.drop {
      font: inherit;
      color: inherit;
      background: none;
      border: 0;
      cursor: pointer;
    }
  `,
})
export class PlotView {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly hands = inject(Hands);
  private readonly live = atEdge(inject(Live), 'running');
  private readonly plan = atEdge(inject(PlanStore), 'doubts');
  private readonly project = atEdge(inject(ProjectStore), 'devices', 'points');
  private readonly themed = themeChanges();
  readonly pointIds = model.required<readonly string[]>();

  protected readonly spans = spans;
  protected readonly spanMs = signal(spans[0]!.ms);
  protected readonly problem = signal<string | null>(null);
  private readonly known = signal<ReadonlyMap<string, Series>>(new Map());
  protected readonly series = computed(() => this.pointIds().flatMap((id) => this.known().get(id) ?? []));
  protected readonly idOf = ({ pointId }: Row): string => pointId;
  protected readonly columns: readonly Column<Row>[] = [
    {
      ...{ name: 'name', head: 'Value', kind: 'cut', text: ({ name, unit, doubt }) => `${doubt && '? '}${name} ${unit}` },
      ...{ more: ({ name, doubt }) => (doubt ? `${name} is in doubt: ${doubt}` : name), classOf: ({ doubt }) => doubt && 'stale' },
    },
    ...(['last', 'low', 'mean', 'high'] as const).map((name) => ({
      ...{ name, head: figureNames[name], kind: 'mono number', text: (row: Row) => row[name] },
    })),
    { name: 'drop', head: '' },
  ];
  protected readonly rows = computed((): Row[] => {
    const from = Date.now() - this.spanMs();
    return this.series().map(({ pointId, at, values }) => {
      const point = this.project.points().get(pointId);
      const device = this.project.devices().get(point?.deviceId ?? '')?.name;
      const shown = values.filter((_, index) => at[index]! >= from);
      const text = (value: number | undefined) =>
        value === undefined || !Number.isFinite(value) ? '' : String(Number(value.toPrecision(6)));
      return {
        ...{ pointId, name: `${device}, ${point?.name}`, unit: point?.unit ?? '', doubt: this.plan.doubts().get(pointId) ?? '' },
        last: text(values.at(-1)),
        ...{ low: text(Math.min(...shown)), high: text(Math.max(...shown)) },
        mean: text(shown.reduce((sum, value) => sum + value, 0) / shown.length),
      };
    });
  });

  protected readonly options = computed(() => {
    this.themed();
    const style = getComputedStyle(this.host);
    const paint = (name: string) => paintOf(`var(${name})`, this.host);
    const quiet = paint('--mat-sys-on-surface-variant');
    const colours = [paint('--pe-carried'), paint('--pe-read'), style.color, paint('--pe-good'), quiet, paint('--pe-bad')];
    const now = Date.now();
    const axis = {
      axisLabel: { color: quiet, fontSize: 11, hideOverlap: true },
      splitLine: { lineStyle: { color: paint('--mat-sys-outline-variant') } },
    };
    const names = new Map(
      this.rows().map(({ pointId, name, unit, doubt }) => [pointId, `${name}${unit && ` (${unit})`}${doubt && ', in doubt'}`]),
    );
    return {
      animation: false,
      textStyle: { fontFamily: style.fontFamily },
      color: colours,
      grid: { left: 52, right: 12, top: 32, bottom: 22 },
      legend: {
        top: 4,
        padding: [6, 0, 0, 0],
        left: 0,
        type: 'scroll',
        textStyle: { color: style.color, fontSize: 11, lineHeight: 18 },
        icon: 'path://M0 5h20v2H0z',
      },
      tooltip: {
        trigger: 'axis',
        confine: true,
        backgroundColor: paint('--mat-sys-surface-container-high'),
        textStyle: { color: style.color },
      },
      xAxis: { type: 'time', splitNumber: 6, min: now - this.spanMs(), max: now, ...axis },
      yAxis: { type: 'value', scale: true, ...axis },
      dataZoom: [{ type: 'inside' }],
      series: this.series().map(({ pointId, at, values }, index) => ({
        ...{ type: 'line', name: names.get(pointId), step: 'end', showSymbol: false, sampling: 'lttb' },
        lineStyle: { width: 1.5, type: dashes[index % dashes.length] },
        data: at.map((each, place) => [each, values[place]]),
      })),
    };
  });

  constructor() {
    const looking = setInterval(() => void this.look(), LOOK_EACH_MS);
    effect(() => {
      this.pointIds();
      untracked(() => void this.look());
    });
    inject(DestroyRef).onDestroy(() => clearInterval(looking));
  }

  protected drop(pointId: string): void {
    this.pointIds.set(this.pointIds().filter((id) => id !== pointId));
  }

  /** Asks for what is new; a point that was not drawn before is asked for from its beginning. */
  private look(): void {
    if (!this.live.running()) return this.known.set(new Map());
    const ids = this.pointIds();
    if (ids.length === 0) return;
    const known = this.known();
    const sinceMs = Math.min(...ids.map((id) => known.get(id)?.at.at(-1) ?? 0));
    this.hands.series(ids, sinceMs).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (!answer.ok) return;
      const oldest = Date.now() - HOUR_MS;
      this.known.update((before) => {
        const next = new Map(before);
        for (const { pointId, at, values } of answer.value) {
          const old = next.get(pointId) ?? { pointId, at: [], values: [] };
          const last = old.at.at(-1) ?? 0;
          const fresh = at.findIndex((each) => each > last);
          const stale = old.at.findIndex((each) => each > oldest);
          const from = stale < 0 ? old.at.length : stale;
          const [newAt, newValues] = fresh < 0 ? [[], []] : [at.slice(fresh), values.slice(fresh)];
          next.set(pointId, { pointId, at: [...old.at.slice(from), ...newAt], values: [...old.values.slice(from), ...newValues] });
        }
        return next;
      });
    });
  }
}
