import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input } from '@angular/core';
import { LineChart } from 'echarts/charts';
import { DataZoomComponent, GridComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { NgxEchartsDirective, provideEchartsCore } from 'ngx-echarts';
import { paintOf, themeChanges } from '../../parts/paint';

echarts.use([LineChart, GridComponent, TooltipComponent, DataZoomComponent, CanvasRenderer]);

/** A value at its time; null where it was not good from then on. */
export type Moment = readonly [atMs: number, value: number | null];

/** What an archive has of one point over time, each event at the time that its outstation gave it; where it was bad there is a gap. */
@Component({
  selector: 'pe-event-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgxEchartsDirective],
  providers: [provideEchartsCore({ echarts })],
  template: `<div echarts [options]="options()" role="img" [attr.aria-label]="label()"></div>`,
  styles: `
    div {
      height: 170px;
    }
  `,
})
export class EventCurve {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly themed = themeChanges();
  readonly name = input.required<string>();
  readonly moments = input.required<readonly Moment[]>();

  protected readonly label = computed(() => `${this.name()} over time, ${this.moments().length} events; the list of events has the same`);
  protected readonly options = computed(() => {
    this.themed();
    const style = getComputedStyle(this.host);
    const paint = (name: string) => paintOf(`var(${name})`, this.host);
    const quiet = paint('--mat-sys-on-surface-variant');
    const axis = { axisLabel: { color: quiet, fontSize: 11 }, splitLine: { lineStyle: { color: paint('--mat-sys-outline-variant') } } };
    return {
      animation: false,
      textStyle: { fontFamily: style.fontFamily },
      color: [paint('--pe-carried')],
      grid: { left: 52, right: 12, top: 10, bottom: 22 },
      tooltip: {
        trigger: 'axis',
        confine: true,
        backgroundColor: paint('--mat-sys-surface-container-high'),
        textStyle: { color: style.color },
      },
      xAxis: { type: 'time', splitNumber: 5, ...axis },
      yAxis: { type: 'value', scale: true, ...axis },
      dataZoom: [{ type: 'inside' }],
      series: [{ type: 'line', name: this.name(), step: 'end', symbolSize: 4, lineStyle: { width: 1.5 }, data: this.moments() }],
    };
  });
}
