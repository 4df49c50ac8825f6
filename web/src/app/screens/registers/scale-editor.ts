import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import type { Point } from '@plain-envoy/core/model';
import { encoderScale, formulaOf, readScale, type Scale, scaleText, toUnits } from '@plain-envoy/core/value';
import { typedNumber } from '../../parts/form';
import { ScalePlot } from './scale-plot';
import { rangeOf, isNumeric, isFloat } from '@plain-envoy/core/types';

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
  imports: [ScalePlot],
  template: `<fieldset>
    <legend>Scale</legend>
    <label class="field"
      >As
      <select #how name="scaleKind" (change)="kind.set($any(how.value)); tell()">
        <option value="formula" [selected]="kind() === 'formula'">factor and offset</option>
        <option value="range" [selected]="kind() === 'range'">raw range to units</option>
        <option value="decimals" [selected]="kind() === 'decimals'">implied decimals</option>
        <option value="encoder" [selected]="kind() === 'encoder'">encoder counts</option>
      </select>
    </label>
    @switch (kind()) {
      @case ('formula') {
        <label class="field"
          >Such as × 0.1 − 40, or /10; empty for none
          <input
            #formula
            name="scale"
            [value]="typed().formula"
            (input)="type({ formula: formula.value })"
            [attr.aria-invalid]="!!problem()"
            autocomplete="off"
          />
        </label>
      }
      @case ('range') {
        <label class="field"
          >Common raw ranges
          <select #common name="common" (change)="takeCommon(common.value)">
            <option value="">choose …</option>
            @for (row of commonRanges; track row[0]) {
              <option [value]="row[0]">{{ row[0] }}: {{ row[1] }} to {{ row[2] }}</option>
            }
          </select>
        </label>
        <div class="fields">
          <label class="field"
            >Raw from <input #rl name="rawLow" inputmode="decimal" [value]="typed().rawLow" (input)="type({ rawLow: rl.value })"
          /></label>
          <label class="field"
            >to <input #rh name="rawHigh" inputmode="decimal" [value]="typed().rawHigh" (input)="type({ rawHigh: rh.value })"
          /></label>
          <label class="field"
            >Units from <input #ul name="unitLow" inputmode="decimal" [value]="typed().unitLow" (input)="type({ unitLow: ul.value })"
          /></label>
          <label class="field"
            >to <input #uh name="unitHigh" inputmode="decimal" [value]="typed().unitHigh" (input)="type({ unitHigh: uh.value })"
          /></label>
        </div>
        <label class="tick"
          ><input type="checkbox" name="clamp" #clamp [checked]="typed().clamp" (change)="type({ clamp: clamp.checked })" /> hold at the
          ends of the range</label
        >
      }
      @case ('decimals') {
        <label class="field"
          >Digits after the point
          <input #digits name="decimals" inputmode="numeric" [value]="typed().decimals" (input)="type({ decimals: digits.value })"
        /></label>
      }
      @case ('encoder') {
        <div class="fields">
          <label class="field"
            >Counts a turn
            <input #counts name="counts" inputmode="decimal" [value]="typed().counts" (input)="type({ counts: counts.value })"
          /></label>
          <label class="field"
            >Units a turn <input #turn name="turn" inputmode="decimal" [value]="typed().turn" (input)="type({ turn: turn.value })"
          /></label>
        </div>
        <label class="tick"
          ><input type="checkbox" name="quadrature" #quad [checked]="typed().quadrature" (change)="type({ quadrature: quad.checked })" />
          four edges are counted for each</label
        >
      }
    }
    @if (problem(); as text) {
      <span class="field-problem" role="alert">{{ text }}</span>
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
    .tick {
      display: flex;
      gap: 8px;
      align-items: center;
      font-size: 13px;
      margin-top: 6px;
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
