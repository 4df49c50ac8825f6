import { Scale } from './scale.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** `× 0.1`, `× 0.1 − 40`, `4000…20000 → 0…100 clamped`; empty for none. `readScale` reads it back. */
export function scaleText(scale: Scale | null): string {
  if (!scale) return '';
  if ('raw' in scale) return `${scale.raw.join('…')} → ${scale.units.join('…')}${scale.clamp ? ' clamped' : ''}`;
  const { factor, offset } = scale;
  return `× ${factor}${offset === 0 ? '' : offset < 0 ? ` − ${-offset}` : ` + ${offset}`}`;
}

const NUMBER = String.raw`[-+]?(?:\d+(?:[.,]\d+)?|[.,]\d+)(?:e[-+]?\d+)?`;
const RANGE = new RegExp(
  String.raw`^(${NUMBER})\s*(?:…|\.\.\.?|:)\s*(${NUMBER})\s*(?:→|->|=>)\s*(${NUMBER})\s*(?:…|\.\.\.?|:)\s*(${NUMBER})\s*(clamped)?$`,
  'i',
);
const LINEAR = new RegExp(String.raw`^([×x*·/÷:]?)\s*(${NUMBER})\s*(?:([-+])\s*(${NUMBER}))?$`, 'i');
const FRACTION = new RegExp(String.raw`^[×x*]?\s*1\s*/\s*(${NUMBER})$`, 'i');

/**
 * A scale as people write it: `0.1`, `× 0,1`, `/10`, `1/10`, `× 0.1 − 40`, `0…27648 → 0…100`. Empty, and a factor of 1, is none.
 * Example: `readScale('/10')` gives a factor of 0.1.
 */
export function readScale(text: string): Outcome<Scale | null> {
  const typed = text.trim().replaceAll('−', '-');
  if (typed === '' || typed === '-') return good(null);
  const range = RANGE.exec(typed);
  if (range) {
    const [rawLow, rawHigh, unitLow, unitHigh] = range.slice(1, 5).map((part) => numberOf(part));
    return checked({ raw: [rawLow!, rawHigh!], units: [unitLow!, unitHigh!], ...(range[5] ? { clamp: true } : {}) });
  }
  const fraction = FRACTION.exec(typed);
  if (fraction) return divided(numberOf(fraction[1]!), 0);
  const linear = LINEAR.exec(typed);
  if (!linear) return bad(`“${text.trim()}” is no scale. Write × 0.1, /10, × 0.1 − 40 or 0…27648 → 0…100.`);
  const [, sign, factor, direction, offset] = linear;
  const zero = offset === undefined ? 0 : numberOf(offset) * (direction === '-' ? -1 : 1);
  if (/[/÷:]/.test(sign!)) return divided(numberOf(factor!), zero);
  const value = numberOf(factor!);
  return value === 1 && zero === 0 ? good(null) : checked({ factor: value, offset: zero });
}

function divided(divisor: number, offset: number): Outcome<Scale | null> {
  if (divisor === 0) return bad('A scale cannot divide by 0.');
  return divisor === 1 && offset === 0 ? good(null) : checked({ factor: Number((1 / divisor).toPrecision(15)), offset });
}

function checked(scale: Scale): Outcome<Scale> {
  const parsed = Scale.safeParse(scale);
  return parsed.success
    ? good(parsed.data)
    : bad(
        parsed.error.issues
          .flatMap((issue) => ('errors' in issue ? (issue.errors as { message: string }[][]).flat() : [issue]))
          .map(({ message }) => message)
          .find((message) => message.endsWith('.')) ?? 'This is no scale.',
      );
}

/** A number with a decimal point or a decimal comma. */
export function numberOf(text: string): number {
  return Number(text.trim().replace(',', '.'));
}
