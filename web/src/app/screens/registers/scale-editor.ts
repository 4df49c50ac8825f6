import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import type { Point } from '@plain-envoy/core/model';
import { encoderScale, formulaOf, readScale, type Scale, scaleText, toUnits } from '@plain-envoy/core/value';
import { typedNumber } from '../../parts/form';
import { ScalePlot } from './scale-plot';
import { rangeOf, isNumeric, isFloat } from '@plain-envoy/core/types';
import { Choose, type Option } from '../../parts/choose';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatMenuModule } from '@angular/material/menu';
import { MatButtonModule } from '@angular/material/button';

/** Raw ranges that analog channels commonly have. */
const commonRanges: readonly [name: string, low: number, high: number][] = [
  ['12 bit', 0, 4095],
  ['12 bit, 4–20 mA', 819, 4095],
  ['15 bit', 0, 32_767],
  ['16 bit', 0, 65_535],
  ['4–20 mA in µA', 4000, 20_000],
  ['0–10 V in mV', 0, 10_000],
  ['per mille', 0, 1000],
];

/** The scale of a point: as a formula, as two ranges, by decimals that are implied, or as counts of an encoder; drawn as a line. */
@Component({
  selector: 'pe-scale-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, MatMenuModule, ScalePlot, TextField],
  template: `<fieldset>
    <legend>Scale</legend>
    <pe-choose label="As" name="scaleKind" [options]="kinds" [value]="kind()" (valueChange)="kind.set($event); tell()" />
    @switch (kind()) {
      @case ('formula') {
        <pe-text
          label="Such as × 0.1 − 40, or /10; empty for none"
          name="scale"
          [problem]="problem()"
          [value]="typed().formula"
          (valueChange)="type({ formula: $event })"
        />
      }
      @case ('range') {
        <button mat-stroked-button type="button" name="common" [matMenuTriggerFor]="commonMenu">Common raw ranges</button>
        <mat-menu #commonMenu="matMenu">
          @for (row of commonRanges; track row[0]) {
            <button mat-menu-item type="button" [attr.data-common]="row[0]" (click)="takeCommon(row[0])">
              {{ row[0] }}: {{ row[1] }} to {{ row[2] }}
            </button>
          }
        </mat-menu>
        <div class="fields">
          <pe-text label="Raw from" name="rawLow" numeric [value]="typed().rawLow" (valueChange)="type({ rawLow: $event })" />
          <pe-text label="to" name="rawHigh" numeric [value]="typed().rawHigh" (valueChange)="type({ rawHigh: $event })" />
          <pe-text label="Units from" name="unitLow" numeric [value]="typed().unitLow" (valueChange)="type({ unitLow: $event })" />
          <pe-text label="to" name="unitHigh" numeric [value]="typed().unitHigh" (valueChange)="type({ unitHigh: $event })" />
        </div>
        <mat-checkbox name="clamp" [checked]="typed().clamp" (change)="type({ clamp: $event.checked })"
          >hold at the ends of the range</mat-checkbox
        >
      }
      @case ('decimals') {
        <pe-text
          label="Digits after the point"
          name="decimals"
          numeric
          [value]="typed().decimals"
          (valueChange)="type({ decimals: $event })"
        />
      }
      @case ('encoder') {
        <div class="fields">
          <pe-text label="Counts a turn" name="counts" numeric [value]="typed().counts" (valueChange)="type({ counts: $event })" />
          <pe-text label="Units a turn" name="turn" numeric [value]="typed().turn" (valueChange)="type({ turn: $event })" />
        </div>
        <mat-checkbox name="quadrature" [checked]="typed().quadrature" (change)="type({ quadrature: $event.checked })"
          >four edges are counted for each</mat-checkbox
        >
      }
    }
    @if (problem(); as text) {
      @if (kind() !== 'formula') {
        <span class="field-problem" role="alert">{{ text }}</span>
      }
    } @else if (scale(); as known) {
      <p class="quiet">{{ formula() }}. {{ ends() }}</p>
      @defer (on viewport) {
        <pe-scale-plot [scale]="known" [from]="plotted()[0]" [to]="plotted()[1]" [unit]="unit()" />
      } @placeholder {
        <div class="plot-room"></div>
      }
    }
  </fieldset>`,
  styles: `
    fieldset {
      border: 1px solid var(--mat-sys-outline-variant);
      border-radius: 4px;
      padding: 4px 10px 8px;
      min-width: 0;
    }
    legend {
      font-size: 12px;
      color: var(--mat-sys-on-surface-variant);
    }
    :is(pe-text, pe-choose, .fields) {
      margin-top: 8px;
    }
    p {
      margin: 6px 0 0;
      font-size: 12.5px;
    }
    .plot-room {
      height: 130px;
    }
  `,
})
export class ScaleEditor {
  readonly value = input.required<Scale | null>();
  readonly pointType = input.required<Point['type']>();
  readonly unit = input('');
  /** The scale as it is now, or why what was typed is none. */
  readonly changed = output<{ ok: true; scale: Scale | null } | { ok: false; message: string }>();

  protected readonly commonRanges = commonRanges;
  protected readonly kinds: Option<Kind>[] = [
    { value: 'formula', text: 'factor and offset' },
    { value: 'range', text: 'raw range to units' },
    { value: 'decimals', text: 'implied decimals' },
    { value: 'encoder', text: 'encoder counts' },
  ];
  protected readonly kind = linkedSignal<Kind>(() => (this.value() && 'raw' in this.value()! ? 'range' : 'formula'));
  protected readonly typed = linkedSignal(() => typedFrom(this.value()));
  private readonly outcome = computed(() => scaleFrom(this.kind(), this.typed()));
  protected readonly problem = computed(() => (this.outcome().ok ? null : (this.outcome() as { message: string }).message));
  protected readonly scale = computed(() => {
    const outcome = this.outcome();
    return outcome.ok ? outcome.scale : null;
  });
  protected readonly formula = computed(() => (this.scale() ? formulaOf(this.scale()!) : ''));
  /** The raw values that are drawn: those of the range and some beyond, or all that the type holds. */
  protected readonly plotted = computed<[number, number]>(() => {
    const scale = this.scale();
    if (scale && 'raw' in scale) {
      const over = (scale.raw[1] - scale.raw[0]) * 0.15;
      return [scale.raw[0] - over, scale.raw[1] + over];
    }
    const type = this.pointType();
    if (!isNumeric(type) || isFloat(type)) return [-100, 100];
    const { low, high } = rangeOf(type);
    return [low, high];
  });
  /** The units at both ends of what the registers can hold. */
  protected readonly ends = computed(() => {
    const scale = this.scale();
    const type = this.pointType();
    if (!scale || !isNumeric(type) || isFloat(type)) return '';
    const { low, high } = rangeOf(type);
    return `${type} reaches ${short(toUnits(low, scale))} to ${short(toUnits(high, scale))} ${this.unit()}`.trim() + '.';
  });

  protected type(fields: Partial<TypedScale>): void {
    this.typed.update((typed) => ({ ...typed, ...fields }));
    this.tell();
  }

  protected takeCommon(name: string): void {
    const known = commonRanges.find((row) => row[0] === name);
    if (known) this.type({ rawLow: String(known[1]), rawHigh: String(known[2]) });
  }

  protected tell(): void {
    this.changed.emit(this.outcome());
  }
}

type Kind = 'formula' | 'range' | 'decimals' | 'encoder';

interface TypedScale {
  formula: string;
  rawLow: string;
  rawHigh: string;
  unitLow: string;
  unitHigh: string;
  clamp: boolean;
  decimals: string;
  counts: string;
  turn: string;
  quadrature: boolean;
}

function typedFrom(scale: Scale | null): TypedScale {
  const range = scale && 'raw' in scale ? scale : null;
  return {
    formula: range ? '' : scaleText(scale),
    rawLow: String(range?.raw[0] ?? 0),
    rawHigh: String(range?.raw[1] ?? 4095),
    unitLow: String(range?.units[0] ?? 0),
    unitHigh: String(range?.units[1] ?? 100),
    clamp: range?.clamp ?? false,
    decimals: '1',
    counts: '1024',
    turn: '1',
    quadrature: false,
  };
}

function scaleFrom(kind: Kind, typed: TypedScale): { ok: true; scale: Scale | null } | { ok: false; message: string } {
  if (kind === 'encoder') {
    const [counts, turn] = [typedNumber(typed.counts), typedNumber(typed.turn)];
    return counts > 0 && turn
      ? { ok: true, scale: encoderScale(counts, turn, typed.quadrature) }
      : { ok: false, message: 'Counts and units a turn are numbers over 0.' };
  }
  const text = {
    formula: typed.formula,
    decimals: /^\d$/.test(typed.decimals.trim()) ? `1e-${typed.decimals.trim()}` : '?',
    range: `${typed.rawLow}…${typed.rawHigh} → ${typed.unitLow}…${typed.unitHigh}${typed.clamp ? ' clamped' : ''}`,
  }[kind];
  const read = readScale(text);
  if (read.ok) return { ok: true, scale: read.value };
  return {
    ok: false,
    message:
      kind === 'decimals'
        ? 'Decimals are a digit, 0 to 9.'
        : kind === 'range' && !/\.$/.test(read.problem.message)
          ? 'Each end is a number.'
          : read.problem.message,
  };
}

function short(value: number): string {
  return String(Number(value.toPrecision(6)));
}
