import { type Point, pointWidth } from '../model/index.js';
import { variableType } from '../playing/index.js';
import { typeName } from '../program/index.js';
import { typeOf } from '../types/index.js';
import { type ByteOrder, reorder } from '../value/index.js';
import { NotInProgram } from './chain.js';
import type { Dialect } from './dialect.js';

/** Which words of Structured Text name the type of a point; refused where this dialect has no such type. */
export function iecOf(point: Pick<Point, 'type' | 'length' | 'name'>, dialect: Dialect): string {
  const type = variableType(point);
  if (!type) throw new NotInProgram(`${point.name} is wider than any variable.`);
  const name = typeName(type);
  if (/^(LREAL|U?LINT|LWORD)$/.test(name) && dialect.width < 64) throw new NotInProgram(`${point.name} has 64 bits.`);
  return name;
}

const strings: Record<number, string> = { 1: 'WORD', 2: 'DWORD', 4: 'LWORD' };

/** A value of several registers, as the words on the wire: expressions of WORD, the first register first. */
export function wordsOf(text: string, point: Point, dialect: Dialect): string[] {
  const iec = iecOf(point, dialect);
  const width = pointWidth(point);
  const held = strings[width];
  if (typeOf(point.type).kind === 'text' || !held) throw new NotInProgram(`${point.name} is a text, whose registers are no number.`);
  if (point.type === 'bit') return [`SEL(${text}, WORD#16#0, WORD#16#${hex(1 << (point.bit ?? 0))})`];
  const bits = bitsOf(text, iec, held, dialect);
  const plain = Array.from({ length: width }, (_, index) => {
    const part = index === width - 1 ? bits : `SHR(${bits}, ${16 * (width - 1 - index)})`;
    return held === 'WORD' ? part : `${held}_TO_WORD(${part})`;
  });
  return ordered(plain, point.order);
}

/** Words on the wire as a value of a point. */
export function fromWords(words: readonly string[], point: Point, dialect: Dialect): string {
  const iec = iecOf(point, dialect);
  const width = pointWidth(point);
  const held = strings[width];
  if (typeOf(point.type).kind === 'text' || !held) throw new NotInProgram(`${point.name} is a text, whose registers are no number.`);
  if (point.type === 'bit') return `(${words[0]} AND 16#${hex(1 << (point.bit ?? 0))}) <> 0`;
  const plain = ordered(words, point.order);
  const [bits] = width === 1 ? plain : [`${width === 2 ? '§Double' : '§Quad'}(${plain.join(', ')})`];
  if (iec === held) return bits!;
  if (iec === 'REAL' && dialect.real === 'REAL') return `§RealOfBits(${bits})`;
  return `${held}_TO_${iec}(${bits})`;
}

/** Whether words on the wire mean the same for both, so that nothing has to be turned. */
export function areAlike(one: Point, other: Point): boolean {
  return one.type === other.type && one.length === other.length && sameOrder(one, other);
}

function sameOrder(one: Point, other: Point): boolean {
  const tries = Array.from({ length: pointWidth(one) }, (_, index) => 0x0100 * (2 * index) + 2 * index + 1);
  const [first, second] = [reorder(tries, one.order), reorder(tries, other.order)];
  return first.ok && second.ok && first.value.join() === second.value.join();
}

/** The same words in the order of a point: turned round, their two bytes exchanged, or both. Each order is its own inverse. */
export function ordered(words: readonly string[], order: ByteOrder): string[] {
  const places = reorder(
    words.map((_, index) => 0x0100 * (2 * index) + 2 * index + 1),
    order,
  );
  if (!places.ok) throw new NotInProgram(places.problem.message);
  return places.value.map((pair) => {
    const word = words[Math.floor((pair & 0xff) / 2)]!;
    return pair >>> 8 < (pair & 0xff) ? word : turned(word);
  });
}

/** A word with its two bytes exchanged; one that was turned already is as it was before. */
export function turned(word: string): string {
  const inner = /^ROL\((.*), 8\)$/.exec(word)?.[1];
  return inner ?? `ROL(${word}, 8)`;
}

function bitsOf(text: string, iec: string, held: string, dialect: Dialect): string {
  if (iec === held) return text;
  return iec === 'REAL' && dialect.real === 'REAL' ? `§BitsOfReal(${text})` : `${iec}_TO_${held}(${text})`;
}

export function hex(value: number | bigint): string {
  return value.toString(16).toUpperCase();
}
