import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input } from '@angular/core';
import type { PlannedRequest } from '@plain-envoy/core/plan';
import { CustomChart } from 'echarts/charts';
import { GridComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { NgxEchartsDirective, provideEchartsCore } from 'ngx-echarts';
import { paintOf, themeChanges } from '../../parts/paint';
import type { TableRead } from './map-state';
import { type Placed, type StripLayout, xOf } from './strip-layout';

echarts.use([CustomChart, GridComponent, CanvasRenderer]);

export const STRIP_PX = 44;
const CELLS = { top: 4, height: 20 };
const REQUESTS_AT = 30;

/** What is drawn, as its custom series takes it; `x` is counted from the beginning of the strip. */
interface Drawn {
  x: number;
  /** From `x` on, px. */
  shapes: object[];
}

/** The drawing of an address strip: what of its table is between `left` and `left + width`. */
@Component({
  selector: 'pe-strip-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgxEchartsDirective],
  providers: [provideEchartsCore({ echarts })],
  template: `<div echarts [options]="options()" [style.width.px]="width()" [style.height.px]="height"></div>`,
})
export class StripChart {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly themed = themeChanges();
  readonly layout = input.required<StripLayout>();
  readonly left = input.required<number>();
  readonly width = input.required<number>();
  readonly requests = input.required<readonly PlannedRequest[]>();
  readonly read = input<TableRead | undefined>();
  /** The point that is looked at. */
  readonly focused = input<string | null>(null);
  readonly cursor = input<number | null>(null);
  /** The other end of what is marked. */
  readonly mark = input<number | null>(null);
  protected readonly height = STRIP_PX;

  private readonly inks = computed(() => {
    this.themed();
    const paint = (name: string) => paintOf(`var(${name})`, this.host);
    return {
      ink: paint('--mat-sys-on-surface'),
      paper: paint('--mat-sys-surface-container-lowest'),
      faint: paint('--mat-sys-outline'),
      accent: paint('--pe-carried'),
      bad: paint('--mat-sys-error'),
      chosen: paint('--mat-sys-primary-container'),
    };
  });
  private readonly stretches = computed((): Drawn[] => {
    const [from, to] = [this.left(), this.left() + this.width()];
    const inView = this.layout().placed.filter(({ x, width }) => x <= to && x + width >= from);
    return inView.map((stretch) => ({
      x: stretch.x,
      shapes: stretch.kind === 'hole' || stretch.kind === 'forbidden' ? this.gap(stretch) : this.cells(stretch),
    }));
  });
  private readonly fetched = computed(() => this.requests().flatMap((request) => this.bracket(request)));
  private readonly marked = computed(() => this.frame());

  protected readonly options = computed(() => ({
    animation: false,
    grid: { left: 0, right: 0, top: 0, bottom: 0 },
    xAxis: { type: 'value', min: this.left(), max: this.left() + this.width(), show: false },
    yAxis: { type: 'value', min: 0, max: STRIP_PX, inverse: true, show: false },
    series: [this.stretches(), this.fetched(), this.marked()].map((drawn) => ({
      type: 'custom',
      silent: true,
      clip: true,
      data: drawn.map(({ x }) => [x, 0]),
      renderItem: ({ dataIndex }: { dataIndex: number }, api: { coord(at: [number, number]): [number, number] }) => {
        const { x, shapes } = drawn[dataIndex]!;
        return { type: 'group', x: api.coord([x, 0])[0], y: 0, children: shapes };
      },
    })),
  }));

  private gap({ kind, width, count }: Placed): object[] {
    const { ink, faint, bad } = this.inks();
    const isHole = kind === 'hole';
    const middle = CELLS.top + CELLS.height / 2;
    const line = {
      type: 'line',
      shape: { x1: 0, x2: width, y1: middle, y2: middle },
      style: { stroke: isHole ? faint : bad, lineDash: isHole ? [3, 3] : [1, 2] },
    };
    const style = { text: String(count), x: width / 2, y: CELLS.top, align: 'center', fontSize: 10, fill: isHole ? ink : bad };
    return width > 18 ? [line, { type: 'text', style }] : [line];
  }

  /** Registers of a point, or of points that lie over each other, with what was read of them below. */
  private cells({ kind, points, width, count, each, offset }: Placed): object[] {
    const { ink, paper, accent, bad } = this.inks();
    const isOverlap = kind === 'overlap';
    const isWritable = points[0]!.access !== 'read';
    const fill = isOverlap ? bad : points.some(({ id }) => id === this.focused()) ? accent : isWritable ? ink : paper;
    const box = { x: 0.5, y: CELLS.top + 0.5, width: width - 1.5, height: CELLS.height - 1 };
    const read = this.read();
    const known = Array.from({ length: read ? count : 0 }, (_, index) => index).flatMap((index) => {
      const isRefused = read!.refused.has(offset + index);
      if (!isRefused && !read!.words.has(offset + index)) return [];
      const shape = { x: index * each + 1, y: CELLS.top + CELLS.height + 1, width: Math.max(2, each - 2), height: 2 };
      return [{ type: 'rect', shape, style: { fill: isRefused ? bad : accent } }];
    });
    return [
      { type: 'rect', shape: box, style: { fill, opacity: isWritable && !isOverlap ? 0.8 : 1 } },
      { type: 'rect', shape: box, style: { fill: 'transparent', stroke: isOverlap ? bad : ink } },
      ...known,
    ];
  }

  /** A bracket below what one request fetches or sets. */
  private bracket({ kind, offset, count }: PlannedRequest): Drawn[] {
    const [from, to] = [xOf(this.layout(), offset), xOf(this.layout(), offset + count - 1)];
    if (!from || !to) return [];
    const y = REQUESTS_AT + (kind === 'write' ? 7 : 1);
    const end = to.x + to.width - 2 - from.x;
    const points = [
      [1, y],
      [1, y + 4],
      [end, y + 4],
      [end, y],
    ];
    const style = { fill: 'none', stroke: this.inks().accent, lineWidth: 1.5, ...(kind === 'watch' ? { lineDash: [2, 2] } : {}) };
    return [{ x: from.x, shapes: [{ type: 'polyline', shape: { points }, style }] }];
  }

  private frame(): Drawn[] {
    const [cursor, mark] = [this.cursor(), this.mark()];
    if (cursor === null) return [];
    const from = xOf(this.layout(), Math.min(cursor, mark ?? cursor));
    const to = xOf(this.layout(), Math.max(cursor, mark ?? cursor));
    if (!from || !to) return [];
    const { accent, chosen } = this.inks();
    const width = to.x + to.width - from.x;
    const span = { type: 'rect', shape: { x: 0, y: 0, width, height: STRIP_PX }, style: { fill: chosen, opacity: 0.5 } };
    const shape = { x: 0, y: CELLS.top - 2, width, height: CELLS.height + 4 };
    const box = { type: 'rect', shape, style: { fill: 'transparent', stroke: accent, lineWidth: 2 } };
    return [{ x: from.x, shapes: mark === null ? [box] : [span, box] }];
  }
}
