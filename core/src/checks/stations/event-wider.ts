import { defineCheck } from '../../findings/index.js';
import { pointWidth } from '../../model/index.js';
import { labelOf } from '../../place/index.js';
import { canBeSaid, isEventPoint, spanOf } from '../../telecontrol-line/index.js';
import { rangeOf, typeOf } from '../../types/index.js';

export const eventWider = defineCheck({
  id: 'event-wider',
  severity: 'warning',
  scope: 'stations',
  doubts: true,
  meaning: 'The registers of a value hold more than a point of its sort can say.',
  find: ({ station: { line, points } }) =>
    points.filter(isEventPoint).flatMap((point) => {
      const { id, name, place, type } = point;
      const at = { entity: 'point' as const, id, field: 'type' };
      const sort = labelOf(place.sort).toLowerCase();
      if (!canBeSaid(point))
        return {
          message: `${name} is of the type ${type}, which no ${sort} can say.`,
          mend: 'Choose a number or a bit.',
          at,
          severity: 'stop' as const,
        };
      if (type === 'bit' || place.part !== 'value') return [];
      const { least, most, whole } = spanOf(line.standard, place.sort);
      const { kind } = typeOf(type);
      if (kind === 'float')
        return whole
          ? {
              message: `${name} is of the type ${type}, and a ${sort} says whole numbers: what is between is told as past its range.`,
              mend: 'Make it a floating-point value.',
              at,
            }
          : [];
      const { low, high } = kind === 'bits' ? { low: 0, high: 2 ** (16 * pointWidth(point)) - 1 } : rangeOf(type as never);
      if (low >= least && high <= most) return [];
      return {
        message: `${name} holds ${low} to ${high}, and a ${sort} says ${least} to ${most}: what is past that is told as bad.`,
        mend: 'Choose another sort, as floating point, or a type that fits.',
        at,
      };
    }),
});
