import type { Telegram } from '../../telegram/index.js';
import { textOf } from '../../telegram/index.js';

/** How samples end, and their texts without start and end. */
export interface Cut {
  ending: Pick<Telegram, 'end' | 'length' | 'start'>;
  texts: string[];
  says: string;
}

/** Marks in the order in which they are believed where several would do. */
const marks: readonly (readonly [name: string, text: string, hex: string])[] = [
  ['CR LF', '\r\n', '0D 0A'],
  ['CR', '\r', '0D'],
  ['LF', '\n', '0A'],
  ['ETX', '\u0003', '03'],
];
const STX = '\u0002';
const [SHORTEST, LONGEST] = [4, 256];
/** A length is believed where so many telegrams of it fit. */
const FEWEST = 3;

/**
 * How telegrams in a recorded stream end: by a mark that comes again and again, or, where there is none, at a length at which every column
 * is of one kind. Null where nothing does. What stands before the first and behind the last mark may be cut off, and is left out.
 */
export function cutOf(bytes: Uint8Array): Cut | null {
  const whole = textOf(bytes, 'latin1');
  for (const [name, mark, hex] of marks) {
    const pieces = whole.split(mark);
    if (pieces.length < 3) continue;
    const texts = pieces.slice(0, -1).filter((text) => text !== '');
    const hasStart = texts.slice(1).every((text) => text.startsWith(STX));
    const own = hasStart ? texts.flatMap((text) => (text.includes(STX) ? [text.slice(text.lastIndexOf(STX) + 1)] : [])) : texts;
    const start = hasStart ? { start: '02' } : {};
    return { ending: { end: [hex], ...start }, texts: whole[0] === STX || !hasStart ? own : own.slice(1), says: `Each ends with ${name}.` };
  }
  return ofOneLength(whole);
}

/** The shortest length at which the columns agree, and where the first one begins: where most of its columns are letters that never change. */
function ofOneLength(whole: string): Cut | null {
  for (let length = SHORTEST; length <= Math.min(LONGEST, Math.floor(whole.length / FEWEST)); length++) {
    if (!agrees(whole, length)) continue;
    const from = beginOf(whole, length);
    const texts: string[] = [];
    for (let at = from; at + length <= whole.length; at += length) texts.push(whole.slice(at, at + length));
    return { ending: { length }, texts, says: `No end mark is in it; each has ${length} characters.` };
  }
  return null;
}

function agrees(whole: string, length: number): boolean {
  for (let at = 0; at + length < whole.length; at++) if (classOf(whole[at]!) !== classOf(whole[at + length]!)) return false;
  return true;
}

/** Of all places where a telegram may begin, the first of the longest run of characters that are always the same. */
function beginOf(whole: string, length: number): number {
  const isSame = Array.from({ length }, (_, column) => {
    for (let at = column + length; at < whole.length; at += length) if (whole[at] !== whole[column]) return false;
    return /[A-Za-z]/.test(whole[column]!);
  });
  let [best, longest] = [0, 0];
  for (let column = 0; column < length; column++) {
    let run = 0;
    while (run < length && isSame[(column + run) % length]) run += 1;
    if (run > longest) [best, longest] = [column, run];
  }
  return best;
}

/** Figures, signs and blanks may stand in one column of a number. */
export function classOf(character: string): 'number' | 'letter' | 'other' {
  if (/[0-9+\- ]/.test(character)) return 'number';
  return /[A-Za-z]/.test(character) ? 'letter' : 'other';
}
