import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input } from '@angular/core';
import { type Scale, toUnits } from '@plain-envoy/core/value';
import { LineChart } from 'echarts/charts';
import { GridComponent, MarkAreaComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { NgxEchartsDirective, provideEchartsCore } from 'ngx-echarts';
import { paintOf, themeChanges } from '../../parts/paint';

echarts.use([LineChart, GridComponent, MarkAreaComponent, CanvasRenderer]);

/** Raw against units as a line; what lies beyond a stated range is shaded, and a clamp is seen as a flat end. */
@Component({
  selector: 'pe-scale-plot',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgxEchartsDirective],
  providers: [provideEchartsCore({ echarts })],
  template: `<div echarts class="plot" [options]="options()" role="img" [attr.aria-label]="spoken()"></div>`,
  styles: `
    .plot {
      height: 130px;
    }
  `,
})
export class ScalePlot {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly scale = input.required<Scale>();
  readonly from = input.required<number>();
  readonly to = input.required<number>();
  readonly unit = input('');
  private readonly themed = themeChanges();

  protected readonly spoken = computed(() => {
    const at = (raw: number) => `raw ${raw} is ${toUnits(raw, this.scale())} ${this.unit()}`;
    return `The scale as a line: ${at(this.from())}, ${at(this.to())}`;
  });
  protected readonly options = computed(() => {
    this.themed();
    const style = getComputedStyle(this.host);
    const ink = style.color;
    const accent = paintOf('var(--pe-carried)', this.host);
    const scale = this.scale();
    const range = 'raw' in scale ? scale.raw : null;
    const stops = [...new Set([this.from(), ...(range ?? []), this.to()])].sort((a, b) => a - b);
    const axis = {
      type: 'value',
      axisLabel: { color: ink, fontSize: 10, hideOverlap: true },
      splitLine: { show: false },
      axisLine: { show: true, lineStyle: { color: ink } },
      splitNumber: 3,
    } as const;
    return {
      animation: false,
      textStyle: { fontFamily: style.fontFamily },
      grid: { left: 44, right: 10, top: 8, bottom: 22 },
      xAxis: { ...axis, min: this.from(), max: this.to() },
      yAxis: axis,
      series: [
        {
          type: 'line',
          symbol: range ? 'circle' : 'none',
          symbolSize: 5,
          lineStyle: { color: accent, width: 2 },
          itemStyle: { color: accent },
          data: stops.map((raw) => [raw, toUnits(raw, scale)]),
          ...(range
            ? {
                markArea: {
                  silent: true,
                  itemStyle: { color: 'rgba(128,128,128,0.16)' },
                  data: [
                    [{ xAxis: this.from() }, { xAxis: Math.min(...range) }],
                    [{ xAxis: Math.max(...range) }, { xAxis: this.to() }],
                  ],
                },
              }
            : {}),
        },
      ],
    };
  });
}
