import { defineCheck, fixOf, onRoute } from '../../findings/index.js';
import { factorsWithinUnit } from '../../route/index.js';
import { describeStep } from '../../steps/index.js';

/** The same quantity has the same number at both ends of one unit. */
export const scaledTwice = defineCheck({
  id: 'scaled-twice',
  severity: 'warning',
  scope: 'value',
  doubts: true,
  meaning: 'A step multiplies between two ends of one unit, so that a scale is applied twice.',
  find: (row) => {
    const { source, destination, route } = row;
    const misplaced = factorsWithinUnit({ source, destination, transforms: route.transforms });
    const [first] = misplaced;
    if (!first) return [];
    const others = { transforms: route.transforms.filter((step) => !misplaced.includes(step)) };
    return [
      {
        message: `both ends are in ${source.unit}, and a step scales by ${describeStep(first)}: what each end scales by itself is scaled twice.`,
        mend: 'Take the step out, or correct the unit or the scale of one end.',
        fix: fixOf('Take the factor out', 'route', route, others),
        at: onRoute(row, 'transforms'),
      },
    ];
  },
});
