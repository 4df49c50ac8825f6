import { defineCheck } from '../../findings/index.js';
import { commands } from '../../place/index.js';
import type { Point } from '../../model/index.js';
import { rangeOf, typeOf } from '../../types/index.js';
import { isEventPoint } from '../../telecontrol-line/index.js';

export const thresholdWrong = defineCheck({
  id: 'threshold-wrong',
  severity: 'warning',
  scope: 'stations',
  meaning: 'A threshold is finer than the steps of its value, so that it holds nothing back, or so coarse that nothing is ever told.',
  find: ({ station: { points } }) =>
    points.filter(isEventPoint).flatMap(({ id, name, place, unit, ...point }) => {
      const { threshold } = place;
      const step = stepOf(point);
      if (threshold === 0 || commands(place.sort) || place.part !== 'value') return [];
      const at = { entity: 'point' as const, id, field: 'place' };
      const own = `${threshold}${unit ? ` ${unit}` : ''}`;
      if (step !== null && threshold < step)
        return {
          message: `${name} is told when it changes by ${own}, and its smallest step is ${step}${unit ? ` ${unit}` : ''}: each change goes out all the same.`,
          mend: 'Set a threshold of several steps, or none.',
          at,
        };
      const most = widthOf(point);
      if (most === null || threshold <= most) return [];
      return {
        message: `${name} is told when it changes by ${own}, and it can change by ${most}${unit ? ` ${unit}` : ''} at most: no change is ever told.`,
        mend: 'Set a threshold that the value can leave; it is in the unit of the point.',
        at,
      };
    }),
});

function factorOf({ scale }: Pick<Point, 'scale'>): number {
  return scale && 'factor' in scale ? Math.abs(scale.factor) : 1;
}

/** The smallest change of a whole number, in its unit; null where it has none. */
function stepOf(point: Pick<Point, 'scale' | 'type'>): number | null {
  return typeOf(point.type).kind === 'float' ? null : factorOf(point);
}

/** From the least to the most that a type holds, in its unit; null where that says nothing. */
function widthOf(point: Pick<Point, 'scale' | 'type'>): number | null {
  if (point.type === 'bit') return 1;
  const { kind } = typeOf(point.type);
  if (kind !== 'whole' && kind !== 'wide') return null;
  const { low, high } = rangeOf(point.type as never);
  return (high - low) * factorOf(point);
}
