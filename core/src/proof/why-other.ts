import { tableNames } from '../address/index.js';
import { type Point, pointWidth, readPoint } from '../model/index.js';
import { type ByteOrder, formulaOf, reorder } from '../value/index.js';
import type { Expected } from './expect.js';

const orders: readonly [ByteOrder, string][] = [
  ['CDAB', 'with its words swapped'],
  ['BADC', 'with the bytes of each register swapped'],
  ['DCBA', 'with words and bytes swapped'],
];

/**
 * Why something else arrived than was sent, judged by the two values; null where they do not tell. `before` is what was there
 * before the value was sent.
 */
export function whyOther(found: readonly number[], before: readonly number[], expected: Expected, destination: Point): string | null {
  if (found.join() === before.join()) return 'Nothing of it arrives: the destination has not changed.';
  const swapped = orders.find(([order]) => {
    const turned = reorder(expected.words, order);
    return expected.words.length === 2 && turned.ok && turned.value.join() === found.join();
  });
  if (swapped) return `It arrives ${swapped[1]}: the order of one end is not as its device has it.`;
  const bytes = expected.words.map((word) => ((word & 0xff) << 8) | (word >>> 8));
  if (expected.words.length === 1 && bytes.join() === found.join()) return 'It arrives with its two bytes swapped.';
  const [is, shall] = [found, expected.words].map((words) => {
    const read = readPoint(words, destination);
    return read.ok && typeof read.value.value === 'number' ? read.value.value : null;
  });
  if (typeof is !== 'number' || typeof shall !== 'number') return null;
  // What arrives has been rounded on the way.
  const power = Math.log10(Math.abs(is / shall));
  const tens = Math.round(power);
  if (shall !== 0 && is !== 0 && tens !== 0 && Math.abs(power - tens) < 0.02)
    return `It arrives as ${Number((10 ** tens).toPrecision(3))} times as much: a scale is forgotten, or applied twice.`;
  const raw = found.reduce((sum, word) => sum * 65_536 + word, 0) - expected.words.reduce((sum, word) => sum * 65_536 + word, 0);
  if (shall < 0 !== is < 0 && Math.abs(raw) % 65_536 === 0) return 'It arrives with another sign: one end takes it as unsigned.';
  return null;
}

/** Where a map of the project says something else of a point than the papers of its device do; null where both agree. */
export function unlikePapers(point: Point, paper: Point): string | null {
  const differs = differsOf(point);
  const misplaced = misplacedByPapers(point, paper);
  if (misplaced) return misplaced;
  if (point.type !== paper.type) return differs('type', point.type, paper.type);
  if (pointWidth(point) > 1 && point.order !== paper.order) return differs('order', point.order, paper.order);
  if (point.unit !== paper.unit) return differs('the unit', point.unit || 'none', paper.unit || 'none');
  const [here, there] = [point, paper].map(({ scale }) => (scale ? formulaOf(scale) : 'no scale'));
  return here === there ? null : differs('', here, there).replace('has  ', 'has ');
}

/** The same for its place alone: table, offset and bit. */
export function misplacedByPapers(point: Point, paper: Point): string | null {
  const differs = differsOf(point);
  if (point.table !== paper.table) return differs('the table of', tableNames[point.table].many, tableNames[paper.table].many);
  if (point.offset !== paper.offset) return differs('offset', point.offset, paper.offset);
  return point.bit === paper.bit ? null : differs('bit', point.bit ?? 'none', paper.bit ?? 'none');
}

function differsOf({ name }: Point): (what: string, here: unknown, there: unknown) => string {
  return (what, here, there) => `The map has ${what} ${String(here)} for ${name}; its papers say ${String(there)}.`;
}
