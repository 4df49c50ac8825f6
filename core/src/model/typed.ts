import { isText, typeOf } from '../types/index.js';
import { encode, type Value } from '../value/index.js';
import { type Point, pointLayout, pointWidth } from './point.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/**
 * What a person typed for a point, as the registers that hold it: a number in units, `on` or `off` for a bit, bits by number or
 * name (`on, run`), a code by its name, text; or the registers themselves in hex or binary (`0x1F 0x0002`, `0b101`).
 * A bit of a register comes as 0 or 1, not at its place.
 */
export function wordsFromInput(text: string, point: Point): Outcome<number[]> {
  const typed = isText(point.type) ? text : text.trim();
  const layout = pointLayout(point);
  if (!layout) {
    if (/^(on|1|true)$/i.test(typed)) return good([1]);
    if (/^(off|0|false)$/i.test(typed)) return good([0]);
    return bad(`“${typed}” is neither on nor off.`, 'value');
  }
  if (!isText(point.type) && /^0[xb][0-9a-f]/i.test(typed)) return registers(typed, pointWidth(point));
  const value = valueFromInput(typed, point);
  if (!value.ok) return value;
  const encoded = encode(value.value, layout);
  return encoded.ok ? good(encoded.value.words) : encoded;
}

/** The same where a bit of a register stands at its place, as the register holds it and as it is written. */
export function atItsPlace(words: readonly number[], { bit }: Pick<Point, 'bit'>): number[] {
  return words.map((word) => (bit === null ? word : word << bit));
}

function registers(typed: string, width: number): Outcome<number[]> {
  const parts = typed.split(/[\s,]+/);
  const wrong = parts.find((part) => !/^0x[0-9a-f]{1,16}$|^0b[01]{1,64}$/i.test(part));
  if (wrong) return bad(`“${wrong}” is no register in hex (0x1F) or binary (0b101).`, 'value');
  const numbers = parts.map((part) => BigInt(part.toLowerCase()));
  // One number for several registers is split over them, the most significant first.
  if (numbers.length === 1 && width > 1)
    return numbers[0]! >> BigInt(16 * width)
      ? bad(`${typed} does not fit into ${width} registers.`, 'value')
      : good(Array.from({ length: width }, (_, index) => Number((numbers[0]! >> BigInt(16 * (width - 1 - index))) & 0xffffn)));
  if (numbers.length !== width) return bad(`It takes ${width} registers; ${numbers.length} were typed.`, 'value');
  return numbers.every((number) => number <= 0xffffn) ? good(numbers.map(Number)) : bad('A register holds at most 0xFFFF.', 'value');
}

/** What was typed as a value, before it is laid out in registers. */
export function valueFromInput(typed: string, point: Point): Outcome<Value> {
  if (isText(point.type)) return good(typed);
  const code = point.codes.find(({ name }) => name.toLowerCase() === typed.toLowerCase());
  if (code) return good(code.value);
  if (typeOf(point.type).kind !== 'bits') return good(typed.replace(',', '.'));
  const bits = bitsFromInput(typed, point);
  return bits.ok ? bits : good(typed);
}

/** `on, run`, `0, 1`, `bits 0 1`, or nothing for no bit. */
export function bitsFromInput(typed: string, point: Point): Outcome<number[]> {
  const text = typed.replace(/^bits?\s+/i, '').trim();
  if (text === '' || /^no bits?$/i.test(text)) return good([]);
  const isListed = text.includes(',') || text !== typed.trim() || !/^\d+$/.test(text);
  if (!isListed) return bad('A number alone is the whole word.');
  const parts = /[,;]/.test(text) ? text.split(/[,;]/) : /^[\d\s]+$/.test(text) ? text.split(/\s+/) : [text];
  const found: number[] = [];
  for (const part of parts.map((each) => each.trim()).filter(Boolean)) {
    const number = /^(?:bit\s*)?(\d+)$/i.exec(part)?.[1];
    const bit = number !== undefined ? Number(number) : point.bits.find(({ name }) => name.toLowerCase() === part.toLowerCase())?.bit;
    if (bit === undefined || bit >= 16 * pointWidth(point)) return bad(`“${part}” is no bit of ${point.name}.`, 'value');
    found.push(bit);
  }
  return good(found.sort((a, b) => a - b));
}
