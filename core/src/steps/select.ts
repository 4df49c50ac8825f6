import * as z from 'zod';
import { Id } from '../common/index.js';
import { bad } from '../outcome/index.js';
import { defineStep } from './definition.js';
import { number } from './fields.js';
import { pass } from './values.js';

export const select = defineStep({
  schema: z.strictObject({
    kind: z.literal('select').describe('The value while a bit is on, else another'),
    pointId: Id,
    otherwise: number,
    otherwiseId: Id.nullable().default(null).describe('A point whose value it is while the bit is off, in place of the number'),
  }),
  blank: { kind: 'select', pointId: '', otherwise: 0, otherwiseId: null },
  label: 'choose by a bit',
  describe: ({ otherwise, otherwiseId }) => (otherwiseId ? 'or another point' : `else ${otherwise}`),
  run: ({ pointId, otherwise, otherwiseId }, value, around) => {
    const on = around.isOn(pointId);
    if (!on.ok) return bad(`The bit that chooses: ${on.problem.message}`);
    if (on.value) return pass(value);
    if (!otherwiseId) return pass(otherwise);
    const other = around.valueOf(otherwiseId);
    return other.ok ? pass(other.value) : other;
  },
  bounds: ({ otherwise, otherwiseId }, { low, high, known }) =>
    otherwiseId
      ? { low: -Infinity, high: Infinity, known: false }
      : { low: Math.min(low, otherwise), high: Math.max(high, otherwise), known },
  points: [
    { field: 'pointId', label: 'The bit that chooses', none: 'none', isBit: true, whileProved: 1 },
    { field: 'otherwiseId', label: 'While it is off', none: 'the number below', isBit: false, whileProved: null },
  ],
});
