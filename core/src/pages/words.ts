import { trimmedOf } from '../common/index.js';
import type { Glyph } from './page.js';

/** Characters without a blank between them. */
export interface Word extends Glyph {
  /** What stands raised behind it, as the sign of a footnote; empty for none. */
  mark: string;
  /** Where each of its characters starts, to cut it where a line goes through. */
  starts: number[];
}

/** Words on one baseline, from left to right. */
export interface Line {
  y: number;
  size: number;
  words: Word[];
}

/** A gap inside a word is narrower than this share of the size of its type. */
const WORD_GAP = 0.18;
/** Of smaller type beside a word, what is raised is a sign or an exponent. */
const SMALLER = 0.85;
/** How far baselines of one line may differ, in shares of the size of its type. */
const SAME_LINE = 0.35;

const exponents: Readonly<Record<string, string>> = { 1: '¹', 2: '²', 3: '³', '-1': '⁻¹', '-2': '⁻²' };

/** Lines that are typed out of characters. */
const DRAWN = /^[-=_─━|+]{3,}$/;

/** The words of a page, line by line. Raised signs are taken off the words behind which they stand; exponents become part of them. */
export function linesOf(glyphs: readonly Glyph[]): Line[] {
  const words = joinSmall(
    runsOf(glyphs)
      .flatMap(wordsOf)
      .filter(({ text }) => !DRAWN.test(text)),
  );
  return asLines(words);
}

/** What of a line lies between two places across; words through which they go are cut. */
export function cutLine(line: Line, from: number, to: number): Line | null {
  const words = line.words.flatMap((word) => cutWord(word, from, to) ?? []);
  return words.length ? { ...line, words } : null;
}

/** Words in one text, with a single blank between them. */
export function textOf(words: readonly Word[]): string {
  return words.map(({ text }) => text).join(' ');
}

/** The footnotes that a person is sent to from these words. */
export function marksOf(words: readonly Word[]): string[] {
  return words.flatMap(({ mark }) => mark || []);
}

function cutWord(word: Word, from: number, to: number): Word | null {
  if (word.x0 >= from && word.x1 <= to) return word;
  if (word.x1 <= from || word.x0 >= to) return null;
  const ends = [...word.starts.slice(1), word.x1];
  const inside = word.starts.flatMap((start, index) => {
    const middle = (start + ends[index]!) / 2;
    return middle >= from && middle < to ? [index] : [];
  });
  if (inside.length === 0) return null;
  if (inside.length === word.starts.length) return word;
  const [first, last] = [inside[0]!, inside.at(-1)!];
  const characters = [...word.text];
  const starts = word.starts.slice(first, last + 1);
  return { ...word, text: characters.slice(first, last + 1).join(''), x0: starts[0]!, x1: ends[last]!, starts };
}

/** Characters of one baseline, each once: bold type is sometimes made by printing twice. */
function runsOf(glyphs: readonly Glyph[]): Glyph[][] {
  const sorted = [...glyphs].sort((a, b) => a.y - b.y || a.x0 - b.x0);
  const runs: Glyph[][] = [];
  for (const glyph of sorted) {
    const run = runs.at(-1);
    if (run && glyph.y - run[0]!.y <= 0.12 * Math.max(glyph.size, run[0]!.size)) run.push(glyph);
    else runs.push([glyph]);
  }
  return runs.map((run) => {
    const inOrder = run.sort((a, b) => a.x0 - b.x0);
    return inOrder.filter((glyph, index) => {
      const before = inOrder.slice(Math.max(0, index - 3), index);
      return !before.some((other) => other.text === glyph.text && glyph.x0 - other.x0 < 0.15 * glyph.size);
    });
  });
}

function wordsOf(run: readonly Glyph[]): Word[] {
  const words: Word[] = [];
  let open: Word | null = null;
  for (const { text, x0, x1, y, size, isBold } of run) {
    if (text.trim() === '') {
      open = null;
      continue;
    }
    const isSame = open && x0 - open.x1 < WORD_GAP * size && x0 > open.x1 - size && Math.abs(open.size - size) < 0.15 * size;
    if (open && isSame) {
      open.text += text;
      open.x1 = Math.max(open.x1, x1);
      open.starts.push(...startsOf(text, x0, x1));
    } else {
      open = { text, x0, x1, y, size, isBold, mark: '', starts: startsOf(text, x0, x1) };
      words.push(open);
    }
  }
  return words;
}

function startsOf(text: string, x0: number, x1: number): number[] {
  const count = [...text].length;
  return Array.from({ length: count }, (_, index) => x0 + ((x1 - x0) * index) / count);
}

/** Puts what is printed small, right behind a word, where it belongs: raised it is a sign or an exponent, lowered it is part of the word. */
function joinSmall(words: readonly Word[]): Word[] {
  const gone = new Set<Word>();
  const largest = Math.max(0, ...words.map(({ size }) => size));
  const byEnd = [...words].sort((a, b) => a.x1 - b.x1);
  for (const small of words) {
    if (small.text.length > 4 || small.size >= largest) continue;
    const host = hostOf(small, byEnd);
    if (!host) small.y = followedBy(small, words)?.y ?? small.y;
    if (!host || gone.has(host)) continue;
    gone.add(small);
    const isRaised = small.y < host.y - 0.12 * host.size;
    const exponent = exponents[small.text.replace('−', '-')];
    if (!isRaised) append(host, small, small.text);
    else if (exponent && /^(?:.*[/·\s])?(?:m|mm|cm|dm|km|s|h|min|ft|in)$/.test(host.text)) append(host, small, exponent);
    else host.mark = trimmedOf(small.text, ').');
  }
  return words.filter((word) => !gone.has(word));
}

function hostOf(small: Word, byEnd: readonly Word[]): Word | undefined {
  const near = 0.3 * small.size;
  let [low, high] = [0, byEnd.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (byEnd[middle]!.x1 < small.x0 - near) low = middle + 1;
    else high = middle;
  }
  for (let at = low; at < byEnd.length && byEnd[at]!.x1 <= small.x0 + near; at++) {
    const host = byEnd[at]!;
    const apart = host.y - small.y;
    if (host !== small && small.size < SMALLER * host.size && apart > -0.35 * host.size && apart < 0.75 * host.size && apart !== 0)
      return host;
  }
  return undefined;
}

/** The word before which a raised sign stands, as at the beginning of a footnote. */
function followedBy(small: Word, words: readonly Word[]): Word | undefined {
  return words.find(
    ({ x0, y, size }) =>
      small.size < SMALLER * size &&
      x0 >= small.x1 - 1 &&
      x0 < small.x1 + 0.8 * size &&
      y - small.y > 0.12 * size &&
      y - small.y < 0.75 * size,
  );
}

function append(host: Word, small: Word, text: string): void {
  host.text += text;
  host.starts.push(...startsOf(text, small.x0, small.x1));
  host.x1 = small.x1;
}

function asLines(words: readonly Word[]): Line[] {
  const lines: Line[] = [];
  for (const word of [...words].sort((a, b) => a.y - b.y)) {
    const line = lines.at(-1);
    if (line && word.y - line.y <= SAME_LINE * Math.max(word.size, line.size)) {
      line.words.push(word);
      line.size = Math.max(line.size, word.size);
    } else {
      lines.push({ y: word.y, size: word.size, words: [word] });
    }
  }
  for (const { words: own } of lines) own.sort((a, b) => a.x0 - b.x0);
  return lines;
}
