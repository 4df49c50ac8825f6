import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output } from '@angular/core';
import { CustomChart } from 'echarts/charts';
import { DataZoomComponent, GridComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { NgxEchartsDirective, provideEchartsCore } from 'ngx-echarts';
import { paintOf, themeChanges } from '../../parts/paint';

echarts.use([CustomChart, GridComponent, DataZoomComponent, TooltipComponent, CanvasRenderer]);

/** A row of the chart: one request, or a whole line. */
export interface GanttRow {
  id: string;
  label: string;
  /** At the right of the label, as a period. */
  hint: string;
}

/** A stretch of time on a row, ms from the left end: it waits from `releasedMs`, then runs. */
export interface GanttSpan {
  rowId: string;
  releasedMs: number;
  fromMs: number;
  toMs: number;
  kind: 'read' | 'write' | 'silent' | 'measured';
  text: string;
}

const ROW_PX = 14;
const HEAD_PX = 30;
const MAX_ROWS = 22;
const kinds: GanttSpan['kind'][] = ['read', 'write', 'silent', 'measured'];

/** Lines over time: a thin line while a request waits, a bar while it holds its line, a hollow one while nobody answers. */
@Component({
  selector: 'pe-gantt',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgxEchartsDirective],
  providers: [provideEchartsCore({ echarts })],
  template: `<div
    echarts
    class="chart"
    [style.height.px]="height()"
    [options]="options()"
    role="img"
    [attr.aria-label]="label()"
    (chartClick)="clicked($event)"
  ></div>`,
  styles: `
    :host {
      display: block;
    }
  `,
})
export class Gantt {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly rows = input.required<readonly GanttRow[]>();
  readonly spans = input.required<readonly GanttSpan[]>();
  readonly windowMs = input.required<number>();
  readonly chosenId = input<string | null>(null);
  readonly label = input.required<string>();
  readonly choose = output<string>();
  private readonly themed = themeChanges();

  protected readonly height = computed(() => Math.min(MAX_ROWS, Math.max(3, this.rows().length)) * ROW_PX + HEAD_PX);

  protected readonly options = computed(() => {
    this.themed();
    const style = getComputedStyle(this.host);
    const paint = (name: string) => paintOf(`var(${name})`, this.host);
    const colours = {
      read: paint('--pe-read'),
      write: paint('--pe-carried'),
      silent: paint('--pe-bad'),
      measured: paint('--mat-sys-on-surface-variant'),
    };
    const [ink, quiet, rule] = [style.color, paint('--mat-sys-on-surface-variant'), paint('--mat-sys-outline-variant')];
    const mark = paint('--mat-sys-primary-container');
    const rows = this.rows();
    const at = new Map(rows.map(({ id }, index) => [id, index]));
    const spans = this.spans().filter(({ rowId }) => at.has(rowId));
    const chosen = this.chosenId();
    return {
      animation: false,
      textStyle: { fontFamily: style.fontFamily },
      grid: { left: 260, right: 12, top: 22, bottom: 6 },
      tooltip: {
        confine: true,
        formatter: ({ data }: { data: { text: string } }) => data.text,
        backgroundColor: paint('--mat-sys-surface-container-high'),
        textStyle: { color: ink, fontSize: 12 },
      },
      xAxis: {
        type: 'value',
        position: 'top',
        min: 0,
        max: this.windowMs(),
        axisLabel: { color: quiet, fontSize: 11, formatter: (ms: number) => (ms >= 10_000 ? `${ms / 1000} s` : `${ms}`) },
        splitLine: { lineStyle: { color: rule } },
        axisLine: { show: false },
        axisTick: { show: false },
      },
      yAxis: {
        type: 'category',
        inverse: true,
        data: rows.map(({ id }) => id),
        axisLine: { show: false },
        axisTick: { show: false },
        axisLabel: {
          interval: 0,
          width: 250,
          overflow: 'truncate',
          align: 'left',
          margin: 255,
          fontSize: 12,
          color: ink,
          formatter: (id: string) => {
            const row = rows[at.get(id)!]!;
            return `${id === chosen ? '{on|' : '{name|'}${row.label}}{hint|${row.hint}}`;
          },
          rich: {
            name: { width: 190, color: ink, fontSize: 12, overflow: 'truncate' },
            on: { width: 190, color: ink, fontSize: 12, fontWeight: 'bold', backgroundColor: mark },
            hint: { width: 56, align: 'right', color: quiet, fontSize: 11 },
          },
        },
      },
      dataZoom: [
        { type: 'inside', xAxisIndex: 0, filterMode: 'weakFilter' },
        ...(rows.length > MAX_ROWS
          ? [
              {
                type: 'slider',
                yAxisIndex: 0,
                width: 8,
                right: 0,
                startValue: 0,
                endValue: MAX_ROWS - 1,
                showDetail: false,
                zoomLock: true,
                brushSelect: false,
              },
            ]
          : []),
      ],
      series: [
        {
          type: 'custom',
          clip: true,
          encode: { x: [1, 2, 3], y: 0 },
          data: spans.map(({ rowId, releasedMs, fromMs, toMs, kind, text }) => ({
            value: [at.get(rowId)!, releasedMs, fromMs, toMs, kinds.indexOf(kind)],
            text,
            id: rowId,
          })),
          renderItem: (_: unknown, api: CustomApi) => {
            const kind = kinds[api.value(4)]!;
            const [released, y] = api.coord([api.value(1), api.value(0)]);
            const [from] = api.coord([api.value(2), api.value(0)]);
            const [to] = api.coord([api.value(3), api.value(0)]);
            const colour = colours[kind];
            const isMeasured = kind === 'measured';
            const bar = {
              type: 'rect',
              shape: { x: from, y: y! + (isMeasured ? 4 : -5), width: Math.max(1.5, to! - from!), height: isMeasured ? 2 : 8 },
              style: kind === 'silent' ? { fill: 'transparent', stroke: colour, lineWidth: 1.5 } : { fill: colour },
            };
            const waits = {
              type: 'rect',
              shape: { x: released, y: y! - 2, width: Math.max(0, from! - released!), height: 1 },
              style: { fill: colour, opacity: 0.6 },
            };
            return { type: 'group', children: isMeasured ? [bar] : [waits, bar] };
          },
        },
      ],
    };
  });

  protected clicked(event: object): void {
    const { data } = event as { data?: { id?: string } };
    if (data?.id) this.choose.emit(data.id);
  }
}

/** What a custom series may ask of the chart. */
interface CustomApi {
  value(dimension: number): number;
  coord(at: [number, number]): [number, number];
}
