import { typeOf } from '../types/index.js';
import { encode } from '../value/index.js';
import { type Point, pointLayout, readPoint } from '../model/index.js';
import { good, type Outcome } from '../outcome/index.js';
import type { FieldValue } from '../telegram-text/index.js';

/** The registers that hold what a field of a telegram says, as the point lays its values out; a single bit as 0 or 1. */
export function wordsOfField(value: FieldValue, point: Point): Outcome<number[]> {
  const layout = pointLayout(point);
  const named = typeof value === 'string' && !isTextPoint(point) ? point.codes.find(({ name }) => name === value) : undefined;
  if (!layout) return good([isOn(named ? named.value : value) ? 1 : 0]);
  const encoded = encode(
    named ? named.value : isTextPoint(point) ? String(value) : value,
    named ? { ...layout, scale: undefined } : layout,
  );
  return encoded.ok ? good(encoded.value.words) : encoded;
}

/** What a field of a telegram has to say where these registers hold the value of its point. */
export function fieldOfWords(words: readonly number[], point: Point): Outcome<FieldValue> {
  const read = readPoint(words, point);
  if (!read.ok) return read;
  const code = isTextPoint(point) ? undefined : point.codes.find(({ value }) => value === Number(read.value.raw));
  if (code) return good(code.name);
  const { value } = read.value;
  return good(typeof value === 'number' || typeof value === 'string' ? value : Number(read.value.raw));
}

function isTextPoint({ type }: Point): boolean {
  return type !== 'bit' && typeOf(type).kind === 'text';
}

function isOn(value: FieldValue): boolean {
  return typeof value === 'number' ? value !== 0 : !/^(|0|off|no|false)$/i.test(value.trim());
}
