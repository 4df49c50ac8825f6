import { type Point, pointLayout, readPoint } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import type { StepSurroundings } from '../steps/index.js';

/** What is known beside a route while its value goes across: the time, and what other points hold. */
export interface Surroundings {
  nowMs: number;
  /** What another point holds now; null while it is not known. */
  wordsOf(pointId: string): readonly number[] | null;
  point(pointId: string): Point | undefined;
}

/** The same as steps see it, in units. */
export function forSteps(around: Surroundings): StepSurroundings {
  return {
    nowMs: around.nowMs,
    valueOf: (pointId) => {
      const known = knownAt(pointId, around);
      if (!known.ok) return known;
      const read = readPoint(known.value.words, known.value.point);
      return read.ok ? good(read.value.value) : bad(`${known.value.point.name} cannot be read: ${read.problem.message}`);
    },
    isOn: (pointId) => {
      const known = knownAt(pointId, around);
      return known.ok ? good(isSet(known.value.words, known.value.point)) : known;
    },
  };
}

/** Whether another point is on (a bit) or anything but 0 (a word); null while that is not known. */
export function isOn(pointId: string, around: Surroundings): boolean | null {
  const known = knownAt(pointId, around);
  return known.ok ? isSet(known.value.words, known.value.point) : null;
}

function isSet(words: readonly number[], point: Point): boolean {
  if (pointLayout(point) !== null) return words.some((word) => word !== 0);
  const read = readPoint(words, point);
  return read.ok && read.value.value !== 0;
}

function knownAt(pointId: string, { point, wordsOf }: Surroundings): Outcome<{ point: Point; words: readonly number[] }> {
  const of = point(pointId);
  const words = wordsOf(pointId);
  return of && words ? good({ point: of, words }) : bad(`${of?.name ?? 'A point that is gone'} is not known.`);
}
