import { type Point, pointWidth } from '../model/index.js';
import { plausible } from './plausible.js';

/** What a register at an offset holds; undefined where it was not read. */
export type WordAt = (offset: number) => number | undefined;

/** A run of points that are all shifted alike. */
export interface ShiftedBlock {
  points: Point[];
  /** Registers by which the values lie later than the map says: +1 where the map is one too low. */
  shift: number;
  /** How much better it suits than no shift at all. */
  gain: number;
  why: string;
}

export interface Alignment {
  /** In offset order; every point that was given belongs to one. */
  blocks: ShiftedBlock[];
  /** How well each shift suits the whole, best first. */
  ranking: { shift: number; score: number; suits: number; contradicts: number }[];
}

export const SHIFTS = [0, 1, -1, 2, -2] as const;
/** A change of shift in the middle of a map must be worth this much. */
const CHANGE_COST = 3;
/** A shift is only thought of where something speaks for it. */
const SHIFT_COST = 0.5;

/**
 * Lays a register map beside what was read, and finds by how much the values lie later or earlier than the map says: for
 * all points, and for blocks of them where a register is missing or too many in the middle. Each point is judged by its
 * type, unit, codes and named bits; what holds 0 says nothing. `shift` +1 means that what the map has at offset 10 is at 11.
 */
export function align(points: readonly Point[], wordAt: WordAt): Alignment {
  const sorted = [...points].sort((a, b) => a.offset - b.offset);
  const scores = sorted.map((point) => SHIFTS.map((shift) => suitsAt(point, shift, wordAt).score));
  const ranking = SHIFTS.map((shift, at) => {
    const column = scores.map((row) => row[at]!);
    return {
      shift,
      score: sum(column) - (shift ? SHIFT_COST : 0),
      suits: column.filter((score) => score > 0).length,
      contradicts: column.filter((score) => score < 0).length,
    };
  }).sort((a, b) => b.score - a.score);
  return { blocks: blocksOf(sorted, scores, wordAt), ranking };
}

/** How a point would read at another place; not read at all says nothing. */
export function suitsAt(point: Point, shift: number, wordAt: WordAt): { score: number; why: string; words: number[] | null } {
  const words = Array.from({ length: pointWidth(point) }, (_, index) => wordAt(point.offset + shift + index));
  if (words.some((word) => word === undefined)) return { score: 0, why: 'it was not read there', words: null };
  return { ...plausible(words as number[], point), words: words as number[] };
}

/** The cheapest way through: each point has a shift, and changing it from one point to the next costs something. */
function blocksOf(points: readonly Point[], scores: readonly number[][], wordAt: WordAt): ShiftedBlock[] {
  let best = SHIFTS.map((shift) => (shift ? -SHIFT_COST : 0));
  const cameFrom: number[][] = [];
  for (const row of scores) {
    const top = best.indexOf(Math.max(...best));
    const from = SHIFTS.map((_, at) => (best[at]! >= best[top]! - CHANGE_COST ? at : top));
    cameFrom.push(from);
    best = SHIFTS.map((_, at) => row[at]! + best[from[at]!]! - (from[at] === at ? 0 : CHANGE_COST));
  }
  const path: number[] = [];
  let at = best.indexOf(Math.max(...best));
  for (let index = points.length - 1; index >= 0; index--) {
    path.unshift(at);
    at = cameFrom[index]![at]!;
  }
  const blocks: ShiftedBlock[] = [];
  points.forEach((point, index) => {
    const shift = SHIFTS[path[index]!]!;
    const last = blocks.at(-1);
    const gain = scores[index]![path[index]!]! - scores[index]![0]!;
    if (last?.shift === shift) {
      last.points.push(point);
      last.gain += gain;
    } else {
      blocks.push({ points: [point], shift, gain, why: '' });
    }
  });
  return blocks.map((block) => ({ ...block, why: reason(block, wordAt) }));
}

/** The two points that speak loudest for the shift. */
function reason({ points, shift }: ShiftedBlock, wordAt: WordAt): string {
  if (shift === 0) return 'What was read suits the map as it is.';
  const loudest = points
    .map((point) => ({ point, here: suitsAt(point, 0, wordAt), there: suitsAt(point, shift, wordAt) }))
    .sort((a, b) => b.there.score - b.here.score - (a.there.score - a.here.score))
    .slice(0, 2)
    .filter(({ here, there }) => there.score > here.score);
  const told = loudest.map(({ point, here, there }) => `${point.name}: ${there.why} there, while ${here.why} here`);
  return `The values lie ${Math.abs(shift)} register${Math.abs(shift) === 1 ? '' : 's'} ${shift > 0 ? 'later' : 'earlier'} than the map says. ${told.join('; ')}.`;
}

function sum(numbers: readonly number[]): number {
  return numbers.reduce((total, number) => total + number, 0);
}
