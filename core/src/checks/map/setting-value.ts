import { defineCheck, fixOf } from '../../findings/index.js';
import { wordsFromInput } from '../../model/index.js';

/** A value that a setting shall have is kept as it was typed, and the point may have been changed since. */
export const settingValue = defineCheck({
  id: 'setting-value',
  severity: 'warning',
  scope: 'map',
  meaning: 'What is wanted of a setting is no value that its point can hold.',
  find: ({ device, points }) =>
    points.flatMap((point) => {
      const wanted = point.setting?.wanted ?? null;
      const words = wanted === null ? null : wordsFromInput(wanted, point);
      if (words === null || words.ok) return [];
      return [
        {
          message: `${device}: ${point.name} shall be “${wanted}”, which it cannot hold: ${words.problem.message}`,
          mend: 'Type what is wanted again, in the unit of the point.',
          fix: fixOf(`Leave ${point.name} undecided`, 'point', point, { setting: { wanted: null } }),
          at: { entity: 'point' as const, id: point.id, field: 'setting' },
        },
      ];
    }),
});
