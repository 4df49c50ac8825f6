import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatSlideToggleModule } from '@angular/material/slide-toggle';
import { MatSliderModule } from '@angular/material/slider';
import { namedBits, type Point, readPoint, type Tile, valueText } from '@plain-envoy/core/model';
import { tileSpan } from '@plain-envoy/core/tile';
import { GaugeChart } from 'echarts/charts';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { NgxEchartsDirective, provideEchartsCore } from 'ngx-echarts';
import { Choose } from '../../parts/choose';
import { textControl } from '../../parts/controls';
import { paintOf, themeChanges } from '../../parts/paint';
import { QualityMark, type ShownQuality } from '../../parts/quality';
import { TextField } from '../../parts/text-field';

echarts.use([GaugeChart, CanvasRenderer]);

/**
 * One watched point as what suits its type: a lamp, a switch, a slider, a gauge … Its quality and age are always there; a value that is not
 * good is struck through, and what is written goes the same way as what is written by hand.
 */
@Component({
  selector: 'pe-tile',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Choose,
    MatProgressBarModule,
    MatSlideToggleModule,
    MatSliderModule,
    NgxEchartsDirective,
    QualityMark,
    ReactiveFormsModule,
    TextField,
  ],
  providers: [provideEchartsCore({ echarts })],
  template: `<header>
      <strong [title]="name()">{{ name() }}</strong>
    </header>
    <div class="face" [class.doubtful]="!isSure()">
      @switch (tile().face) {
        @case ('lamp') {
          <span class="lamp" [class.on]="isOn()" aria-hidden="true">{{ isOn() ? '●' : '○' }}</span> {{ text() }}
        }
        @case ('switch') {
          <mat-slide-toggle
            #toggle
            [checked]="isOn()"
            [disabled]="!canWrite()"
            [aria-label]="name()"
            (change)="write.emit($event.checked ? '1' : '0'); toggle.checked = isOn()"
            >{{ text() }}</mat-slide-toggle
          >
        }
        @case ('lamps') {
          <ul>
            @for (bit of bits(); track bit.name) {
              <li>
                <span class="lamp" [class.on]="bit.on" aria-hidden="true">{{ bit.on ? '●' : '○' }}</span> {{ bit.name }}
                <span class="quiet">{{ bit.on ? 'on' : 'off' }}</span>
              </li>
            }
          </ul>
        }
        @case ('selector') {
          <pe-choose [aria]="name()" [placeholder]="text()" [options]="codes()" [value]="code()" (valueChange)="write.emit($event)" />
        }
        @case ('slider') {
          <mat-slider [min]="span().low" [max]="span().high" [step]="step()" [disabled]="!canWrite()" discrete>
            <input
              matSliderThumb
              [value]="number() ?? span().low"
              [attr.aria-label]="name()"
              (dragEnd)="write.emit('' + $event.value)"
              (keyup)="fromKey($event)"
            />
          </mat-slider>
          <form [formGroup]="form" (ngSubmit)="set()">
            <pe-text numeric [aria]="'Set ' + name()" placeholder="set" formControlName="value" />
          </form>
          <span class="mono value">{{ text() }}</span>
        }
        @case ('level') {
          <mat-progress-bar mode="determinate" [value]="part()" [attr.aria-label]="name()" />
          <span class="mono value">{{ text() }}</span>
        }
        @case ('gauge') {
          <div echarts class="chart" [options]="gauge()" role="img" [attr.aria-label]="name() + ' ' + text()"></div>
        }
        @case ('trend') {
          <svg viewBox="0 0 200 60" preserveAspectRatio="none" role="img" [attr.aria-label]="name() + ' of late; now ' + text()">
            <path [attr.d]="trend()" />
          </svg>
          <span class="mono value">{{ text() }}</span>
        }
        @default {
          <span class="mono value large">{{ text() }}</span>
        }
      }
    </div>
    <footer [title]="reason()">
      <pe-quality [quality]="quality()" /> <span class="mono quiet">{{ age() }}</span>
    </footer>`,
  styleUrl: './tile.scss',
})
export class TileFace {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly themed = themeChanges();
  protected readonly form = new FormGroup({ value: textControl('') });
  readonly name = input.required<string>();
  readonly point = input.required<Point>();
  readonly tile = input.required<Tile>();
  readonly words = input<readonly number[] | null>(null);
  readonly quality = input<ShownQuality | null>(null);
  readonly reason = input('');
  readonly age = input('');
  /** The path of what it was of late, on a field of 200 by 60. */
  readonly trend = input('');
  readonly canWrite = input(false);
  readonly write = output<string>();

  protected readonly isSure = computed(() => this.quality() === 'good' || this.quality() === 'limited' || this.quality() === 'sent');
  protected readonly text = computed(() => valueText(this.words() ?? undefined, this.point()) || '–');
  protected readonly isOn = computed(() => (this.words()?.[0] ?? 0) !== 0);
  protected readonly span = computed(() => tileSpan(this.tile()));
  protected readonly number = computed(() => {
    const words = this.words();
    const read = words ? readPoint([...words], this.point()) : null;
    return read?.ok && typeof read.value.value === 'number' ? read.value.value : null;
  });
  protected readonly part = computed(() => {
    const { low, high } = this.span();
    return Math.max(0, Math.min(100, (((this.number() ?? low) - low) / (high - low)) * 100));
  });
  /** As fine as the register has it. */
  protected readonly step = computed(() => {
    const { scale } = this.point();
    if (!scale) return 1;
    if ('factor' in scale) return Math.abs(scale.factor);
    return Math.abs((scale.units[1] - scale.units[0]) / (scale.raw[1] - scale.raw[0]));
  });
  protected readonly bits = computed(() => namedBits(this.words(), this.point()));
  protected readonly codes = computed(() => this.point().codes.map(({ value, name }) => ({ value: String(value), text: name })));
  protected readonly code = computed(() => String(this.number() ?? ''));

  protected readonly gauge = computed(() => {
    this.themed();
    const paint = (name: string) => paintOf(`var(${name})`, this.host);
    const { low, high } = this.span();
    const ink = paint('--mat-sys-on-surface');
    return {
      animation: false,
      series: [
        {
          ...{ type: 'gauge', min: low, max: high, splitNumber: 4, radius: '96%', center: ['50%', '62%'], startAngle: 200, endAngle: -20 },
          axisLine: { lineStyle: { width: 8, color: [[1, paint('--mat-sys-surface-container-highest')]] } },
          progress: { show: true, width: 8, itemStyle: { color: paint('--pe-carried') } },
          pointer: { length: '62%', width: 4, itemStyle: { color: ink } },
          axisTick: { show: false },
          splitLine: { length: 8, lineStyle: { color: paint('--mat-sys-outline'), width: 1 } },
          axisLabel: { color: paint('--mat-sys-on-surface-variant'), fontSize: 10, distance: 10 },
          detail: { formatter: () => this.text(), color: ink, fontSize: 14, offsetCenter: [0, '72%'] },
          data: [{ value: this.number() ?? low }],
        },
      ],
    };
  });

  /** A slider that is moved with the keyboard is set when the key is let go. */
  protected fromKey(event: KeyboardEvent): void {
    if (event.key.startsWith('Arrow') || event.key.startsWith('Page') || event.key === 'Home' || event.key === 'End')
      this.write.emit((event.target as HTMLInputElement).value);
  }

  protected set(): void {
    const text = this.form.getRawValue().value.trim();
    if (text) this.write.emit(text);
    this.form.reset();
  }
}
