import { type Point, pointLayout, readPoint } from '../model/index.js';
import { isFloat } from '../types/index.js';
import type { PlannedRoute } from '../plan/index.js';
import { factorsWithinUnit, masksOf, valuesAlong, wordsFor, type Surroundings } from '../route/index.js';
import { encode, lineOf, type Value } from '../value/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { type Transform, pointsOfSteps, stepOf } from '../steps/index.js';

/** What a route needs beside its source, so that a value goes across: bits that allow or choose, and what is joined to it. */
export interface Alongside {
  point: Point;
  value: Value;
}

/** What must be at the destination for a value at the source: its registers, and which of their bits count. */
export interface Expected {
  value: Value;
  words: number[];
  masks: number[] | null;
}

/** What has to hold beside the source while values go across: conditions are met, choices made, and nothing is joined in. */
export function alongside({ whileId, transforms, others }: PlannedRoute): Alongside[] {
  const wanted = new Map<string, Value>();
  if (whileId) wanted.set(whileId, 1);
  for (const { pointId, whileProved } of pointsOfSteps(transforms)) if (whileProved !== null) wanted.set(pointId, whileProved);
  return others.flatMap((point) => (wanted.has(point.id) ? [{ point, value: wanted.get(point.id)! }] : []));
}

/** A route as far as a proof judges it. */
export type Judged = Pick<PlannedRoute, 'transforms'>;

/** Both ends of a route as the papers of their devices have them. */
export interface Papers {
  source: Point;
  destination: Point;
}

/**
 * What the destination must show for a value of the source, in units. The two points are those of the devices' own papers, so that
 * a mistake in the project's maps shows. A problem says why this value does not go across.
 */
export function expectedAt(value: Value, route: Judged, { source, destination }: Papers, besides: readonly Alongside[]): Outcome<Expected> {
  const known = new Map(besides.map((row) => [row.point.id, row]));
  const around: Surroundings = {
    nowMs: 0,
    wordsOf: (id) => (known.has(id) ? wordsOf(known.get(id)!) : null),
    point: (id) => known.get(id)?.point,
  };
  const steps = stepsThatCount({ source, destination, transforms: route.transforms });
  const { values, problem } = valuesAlong(value, steps, [], around);
  if (problem !== null) return bad(problem);
  const words = wordsFor(values.at(-1)!, { destination, transforms: steps });
  if (!words.ok) return words;
  return good({ value: values.at(-1)!, words: words.value, masks: masksOf({ destination, transforms: steps }) });
}

/** Whether what a device holds is what was expected, within what its point can show. */
export function hasArrived(found: readonly number[], expected: Expected, destination: Point): boolean {
  const { words, masks } = expected;
  const own = (word: number, index: number) => word & (masks?.[index] ?? 0xffff);
  if (found.length === words.length && found.every((word, index) => own(word, index) === own(words[index]!, index))) return true;
  if (masks !== null) return false;
  const [is, shall] = [found, words].map((row) => readPoint(row, destination));
  if (!is?.ok || !shall?.ok || typeof is.value.value !== 'number' || typeof shall.value.value !== 'number') return false;
  const layout = pointLayout(destination);
  const step = layout && isFloat(layout.type) ? 0 : Math.abs(destination.scale ? lineOf(destination.scale).factor : 0);
  return Math.abs(is.value.value - shall.value.value) <= Math.max(step * 1.01, Math.abs(shall.value.value) * 2e-6);
}

/**
 * Swapping corrects what a map says of the source, and a deadband only holds back; neither changes what a value means. A factor
 * between two ends of one unit has no place in it either: the same quantity has the same number.
 */
function stepsThatCount(route: Papers & Judged): Transform[] {
  const misplaced = new Set(factorsWithinUnit(route));
  return route.transforms.filter((step) => stepOf(step.kind).inProof !== 'passed' && !misplaced.has(step));
}

/** The registers of a point that has this value; null where it does not fit. */
export function wordsOf({ point, value }: Alongside): number[] | null {
  const layout = pointLayout(point);
  if (!layout) return [Number(value) << (point.bit ?? 0)];
  const words = encode(value, layout);
  return words.ok ? words.value.words : null;
}
