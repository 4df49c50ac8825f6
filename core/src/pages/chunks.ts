import type { Line, Word } from './words.js';
import { textOf } from './words.js';

/** Words that belong together by the gaps between them: what would be in one cell. */
export interface Chunk {
  words: Word[];
  text: string;
  x0: number;
  x1: number;
}

/** Gaps wider than this share of the size of the type keep cells apart; those in a sentence are half of it. */
const CELL_GAP = 0.62;

export function chunksOf({ words, size }: Pick<Line, 'words' | 'size'>): Chunk[] {
  const groups: Word[][] = [];
  const widest = CELL_GAP * size + (isTyped(words) ? 0.4 * size : 0);
  for (const word of words) {
    const last = groups.at(-1)?.at(-1);
    if (last && word.x0 - last.x1 < widest) groups.at(-1)!.push(word);
    else groups.push([word]);
  }
  return groups.map(chunkOf);
}

export function chunkOf(words: Word[]): Chunk {
  return { words, text: textOf(words), x0: words[0]!.x0, x1: Math.max(...words.map(({ x1 }) => x1)) };
}

/** Type of which all characters are equally wide has wide blanks. */
function isTyped(words: readonly Word[]): boolean {
  const longer = words.filter(({ text }) => text.length >= 3);
  const widths = longer.map(({ x0, x1, text, size }) => (x1 - x0) / [...text].length / size);
  return new Set(longer.map(({ text }) => text)).size >= 2 && Math.max(...widths) - Math.min(...widths) < 0.015;
}
