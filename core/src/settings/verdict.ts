import { atItsPlace, type Point, rawText, readPoint, valueText, wordsFromInput } from '../model/index.js';
import { good, type Outcome } from '../outcome/index.js';

/** How two sides of a setting stand to each other: `unknown` where one of them is not known. */
export type Verdict = 'same' | 'differs' | 'unknown';

/** The registers that a wanted value gives, as the device would hold them; a bit of a register stands at its place. Null where nobody has said what is wanted. */
export function wantedWords(point: Point): Outcome<number[] | null> {
  if (point.setting === null || point.setting.wanted === null) return good(null);
  const words = wordsFromInput(point.setting.wanted, point);
  return words.ok ? good(atItsPlace(words.value, point)) : words;
}

/** Whether a point has the same value on both sides. Of a register with several bits only the own one counts; text ends where its blanks begin. */
export function verdictOn(point: Point, one: readonly number[] | null, other: readonly number[] | null): Verdict {
  if (!one || !other) return 'unknown';
  return sameWords(own(one, point), own(other, point)) || sameText(one, other, point) ? 'same' : 'differs';
}

/**
 * What a person would type so that the point holds these registers: as it is shown, or the registers themselves where that does not
 * lead back. Null for text that nobody can type.
 */
export function typedFor(words: readonly number[], point: Point): string | null {
  const shown = valueText(words, point);
  const unit = point.unit && shown.endsWith(` ${point.unit}`) ? shown.slice(0, -point.unit.length - 1) : shown;
  const decoded = readPoint(words, point);
  const exact = decoded.ok && typeof decoded.value.value === 'number' ? String(decoded.value.value) : unit;
  const leadsBack = (text: string) => {
    const read = wordsFromInput(text, point);
    return read.ok && verdictOn(point, atItsPlace(read.value, point), words) === 'same';
  };
  const raw = rawText(words, point)
    .split(' ')
    .map((word) => `0x${word}`)
    .join(' ');
  return [unit, exact, raw].find(leadsBack) ?? null;
}

function own(words: readonly number[], { bit }: Point): readonly number[] {
  return bit === null ? words : words.map((word) => (word >>> bit) & 1);
}

function sameWords(one: readonly number[], other: readonly number[]): boolean {
  return one.length === other.length && one.every((word, index) => word === other[index]);
}

function sameText(one: readonly number[], other: readonly number[], point: Point): boolean {
  const [a, b] = [readPoint(one, point), readPoint(other, point)];
  if (!a.ok || !b.ok || typeof a.value.value !== 'string' || typeof b.value.value !== 'string') return false;
  return a.value.value.trimEnd() === b.value.value.trimEnd();
}
