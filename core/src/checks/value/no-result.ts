import { defineCheck, onRoute } from '../../findings/index.js';
import { bad } from '../../outcome/index.js';
import { describeStep, stepOf, type StepSurroundings } from '../../steps/index.js';

/** Numbers of every kind: where a step has a result for none of them, it has none at all. */
const SAMPLES = [0, 1, -1, 0.5, 7, 100, -1000, 65_535];
/** A formula names no other point. */
const around: StepSurroundings = { nowMs: 0, valueOf: () => bad('It is not asked.'), isOn: () => bad('It is not asked.') };

export const noResult = defineCheck({
  id: 'no-result',
  severity: 'stop',
  scope: 'value',
  meaning: 'A step of a route has no result for any number, as where it divides by a constant zero.',
  find: (row) => {
    const index = row.route.transforms.findIndex((step) => {
      const { points, run, inProof } = stepOf(step.kind);
      if (points.length > 0 || inProof !== 'counts' || step.kind !== 'arithmetic') return false;
      return SAMPLES.every((value) => !run(step, value, around, undefined).ok);
    });
    if (index < 0) return [];
    const step = row.route.transforms[index]!;
    const tried = stepOf(step.kind).run(step, 1, around, undefined);
    return [
      {
        message: `step ${index + 1}, ${describeStep(step)}, has no result for any number${tried.ok ? '' : `: ${tried.problem.message}`}`,
        mend: 'Correct the formula.',
        at: onRoute(row, 'transforms'),
      },
    ];
  },
});
