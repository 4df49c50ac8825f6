import { defineCheck } from '../../findings/index.js';
import { asValue } from './as-value.js';

export const stepsNeedValue = defineCheck({
  id: 'steps-need-value',
  severity: 'stop',
  scope: 'ends',
  meaning: 'A route has steps, which work on a value, but carries registers as they are.',
  find: ({ carry, transforms }) =>
    carry === 'registers' && transforms.length > 0
      ? [
          {
            message: 'Steps work on a value, but the registers are to cross as they are.',
            mend: 'Carry the value, or take the steps away.',
            field: 'carry',
            fix: asValue,
          },
        ]
      : [],
});
