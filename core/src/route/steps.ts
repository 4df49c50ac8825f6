import { type Point, pointLayout, readPoint, type Transform } from '../model/index.js';
import { type Value } from '../value/index.js';
import { readExpression } from './expression.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** What a step that looks back has to remember of the last value that was carried. */
export interface StepMemory {
  value: number;
  atMs: number;
}

/** What surrounds a chain while it runs. */
export interface Around {
  nowMs: number;
  /** What another point holds now; null while it is not known. */
  wordsOf(pointId: string): readonly number[] | null;
  point(pointId: string): Point | undefined;
}

/** A step's value, or that there is nothing to carry just now. */
export type Stepped = { kind: 'value'; value: Value } | { kind: 'held' };

/**
 * Runs one step. The value comes from the step before; what cannot be carried is a problem that says why, never a crash.
 * `swap` and `insert` do their work at the ends, where the registers are, and pass the value through.
 */
export function runStep(step: Transform, value: Value, before: StepMemory | undefined, around: Around): Outcome<Stepped> {
  const pass = (result: Value): Outcome<Stepped> => good({ kind: 'value', value: result });
  const onNumber = (calculate: (number: number) => Outcome<Stepped>): Outcome<Stepped> => {
    const number = numberFrom(value);
    return number.ok ? calculate(number.value) : number;
  };
  const onWhole = (calculate: (whole: bigint) => Outcome<Stepped>): Outcome<Stepped> => {
    const whole = wholeFrom(value);
    return whole.ok ? calculate(whole.value) : whole;
  };
  switch (step.kind) {
    case 'swap':
    case 'insert':
      return pass(value);
    case 'constant':
      return pass(step.value);
    case 'beat':
      return pass(beatAt(step, around.nowMs));
    case 'scale':
      return onNumber((number) => pass(tidy(number * step.factor + step.offset)));
    case 'clamp':
      return onNumber((number) => pass(Math.min(step.high, Math.max(step.low, number))));
    case 'round':
      return onNumber((number) => pass(roundTo(number, step)));
    case 'cast':
      return onNumber((number) => pass(castTo(Math.trunc(number), step)));
    case 'extract':
      return onWhole((whole) => pass(Number((whole >> BigInt(step.at)) & mask(step.count))));
    case 'invert':
      return onWhole((whole) => pass(Number(~whole & mask(step.count))));
    case 'codes':
      return onWhole((whole) => {
        const pair = step.pairs.find(({ from }) => BigInt(from) === whole);
        if (pair) return pass(pair.to);
        return step.otherwise === null ? bad(`Code ${whole} is not in the list.`) : pass(step.otherwise);
      });
    case 'text':
      return typeof value === 'string' ? textStep(value, step) : bad('Text was expected.');
    case 'select':
      return selectStep(step, value, around);
    case 'join':
      return onWhole((whole) => {
        const other = valueOf(step.pointId, around);
        const joining = other.ok ? wholeFrom(other.value) : other;
        if (!joining.ok) return joining;
        const [at, part] = [BigInt(step.at), mask(step.count)];
        return pass(Number((BigInt.asUintN(32, whole) & ~(part << at)) | ((joining.value & part) << at)));
      });
    case 'deadband':
      return onNumber((number) => (before && Math.abs(number - before.value) < step.by ? good({ kind: 'held' }) : pass(number)));
    case 'rate':
      return onNumber((number) => {
        if (!before) return pass(number);
        const most = (step.perSecond * Math.max(0, around.nowMs - before.atMs)) / 1000;
        return pass(tidy(before.value + Math.min(most, Math.max(-most, number - before.value))));
      });
    case 'arithmetic':
      return onNumber((number) => {
        const expression = readExpression(step.expression);
        const result = expression.ok ? expression.value.at(number) : expression;
        return result.ok ? pass(tidy(result.value)) : result;
      });
  }
}

/** Whether a step has to remember what was carried last. */
export function looksBack({ kind }: Transform): boolean {
  return kind === 'deadband' || kind === 'rate';
}

/** A value as a number; NaN, infinities and text are problems. */
export function numberFrom(value: Value): Outcome<number> {
  const number = typeof value === 'number' ? value : Array.isArray(value) ? Number(wholeOfBits(value)) : Number(value.trim() || 'NaN');
  return Number.isFinite(number)
    ? good(number)
    : bad(`${Array.isArray(value) ? 'A list of bits' : value} is no number that can be calculated with.`);
}

function wholeFrom(value: Value): Outcome<bigint> {
  if (Array.isArray(value)) return good(wholeOfBits(value));
  if (typeof value === 'string' && /^-?\d+$/.test(value)) return good(BigInt(value));
  if (typeof value === 'number' && Number.isInteger(value)) return good(BigInt(value));
  return bad(`${value} is no whole number, so it has no bits and is no code.`);
}

function wholeOfBits(bits: readonly number[]): bigint {
  return bits.reduce((sum, bit) => sum | (1n << BigInt(bit)), 0n);
}

/** Past 65535 a counter begins again at 0. */
function beatAt({ pattern, everyMs }: Extract<Transform, { kind: 'beat' }>, nowMs: number): number {
  if (pattern === 'clock') return Math.floor(nowMs / 1000) % 3600;
  return Math.floor(nowMs / everyMs) % (pattern === 'toggle' ? 2 : 65_536);
}

function mask(count: number): bigint {
  return (1n << BigInt(count)) - 1n;
}

function roundTo(number: number, { decimals, direction }: Extract<Transform, { kind: 'round' }>): number {
  const shifted = tidy(number * 10 ** decimals);
  const whole = direction === 'down' ? Math.floor(shifted) : direction === 'up' ? Math.ceil(shifted) : Math.round(shifted);
  return tidy(whole / 10 ** decimals);
}

export const castRanges = {
  int16: { low: -32_768, high: 32_767 },
  uint16: { low: 0, high: 65_535 },
  int32: { low: -2_147_483_648, high: 2_147_483_647 },
  uint32: { low: 0, high: 4_294_967_295 },
} as const;

function castTo(whole: number, { type, past }: Extract<Transform, { kind: 'cast' }>): number {
  const { low, high } = castRanges[type];
  if (past === 'stop') return Math.min(high, Math.max(low, whole));
  const span = high - low + 1;
  return ((((whole - low) % span) + span) % span) + low;
}

const fillers = { none: '', blank: ' ', zero: '0' } as const;

function textStep(value: string, { length, pad, side, cut }: Extract<Transform, { kind: 'text' }>): Outcome<Stepped> {
  const characters = [...value];
  if (characters.length > length && !cut) return bad(`“${value}” has ${characters.length} characters; ${length} fit.`);
  const kept = side === 'right' ? characters.slice(0, length) : characters.slice(-length);
  const filler = fillers[pad].repeat(Math.max(0, length - kept.length));
  return good({ kind: 'value', value: side === 'right' ? kept.join('') + filler : filler + kept.join('') });
}

function selectStep(
  { pointId, otherwise, otherwiseId }: Extract<Transform, { kind: 'select' }>,
  value: Value,
  around: Around,
): Outcome<Stepped> {
  const on = isOn(pointId, around);
  if (on === null) return bad(`The bit that chooses, ${around.point(pointId)?.name ?? 'which is gone'}, is not known.`);
  if (on) return good({ kind: 'value', value });
  const other = otherwiseId ? valueOf(otherwiseId, around) : good(otherwise);
  return other.ok ? good({ kind: 'value', value: other.value }) : other;
}

function valueOf(pointId: string, { point, wordsOf }: Around): Outcome<Value> {
  const of = point(pointId);
  const words = wordsOf(pointId);
  if (!of || !words) return bad(`${of?.name ?? 'A point that is gone'} is not known.`);
  const read = readPoint(words, of);
  return read.ok ? good(read.value.value) : bad(`${of.name} cannot be read: ${read.problem.message}`);
}

/** Whether another point is on (a bit) or anything but 0 (a word); null while that is not known. */
export function isOn(pointId: string, { point, wordsOf }: Around): boolean | null {
  const of = point(pointId);
  const words = wordsOf(pointId);
  if (!of || !words) return null;
  if (pointLayout(of) !== null) return words.some((word) => word !== 0);
  const read = readPoint(words, of);
  return read.ok ? read.value.value !== 0 : null;
}

/** Rounds away the last digit that binary arithmetic spoils. */
function tidy(value: number): number {
  return Number.isFinite(value) ? Number(value.toPrecision(15)) : value;
}
