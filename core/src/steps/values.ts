import { bad, good, type Outcome } from '../outcome/index.js';
import type { Value } from '../value/index.js';
import type { StepResult } from './definition.js';

export function pass(value: Value): Outcome<StepResult> {
  return good({ kind: 'value', value });
}

/** Runs a step that works on numbers. */
export function onNumber(value: Value, calculate: (number: number) => Outcome<StepResult>): Outcome<StepResult> {
  const number = numberFrom(value);
  return number.ok ? calculate(number.value) : number;
}

/** Runs a step that works on whole numbers, of any width. */
export function onWhole(value: Value, calculate: (whole: bigint) => Outcome<StepResult>): Outcome<StepResult> {
  const whole = wholeFrom(value);
  return whole.ok ? calculate(whole.value) : whole;
}

/** A value as a number; NaN, infinities and text are problems. */
export function numberFrom(value: Value): Outcome<number> {
  const number = typeof value === 'number' ? value : Array.isArray(value) ? Number(wholeOfBits(value)) : Number(value.trim() || 'NaN');
  return Number.isFinite(number)
    ? good(number)
    : bad(`${Array.isArray(value) ? 'A list of bits' : value} is no number that can be calculated with.`);
}

export function wholeFrom(value: Value): Outcome<bigint> {
  if (Array.isArray(value)) return good(wholeOfBits(value));
  if (typeof value === 'string' && /^-?\d+$/.test(value)) return good(BigInt(value));
  if (typeof value === 'number' && Number.isInteger(value)) return good(BigInt(value));
  return bad(`${value} is no whole number, so it has no bits and is no code.`);
}

function wholeOfBits(bits: readonly number[]): bigint {
  return bits.reduce((sum, bit) => sum | (1n << BigInt(bit)), 0n);
}

export function maskOf(count: number): bigint {
  return (1n << BigInt(count)) - 1n;
}

/** Rounds away the last digit that binary arithmetic spoils. */
export function tidy(value: number): number {
  return Number.isFinite(value) ? Number(value.toPrecision(15)) : value;
}
