import { whyNotCompared } from '../../errand/index.js';
import { defineCheck } from '../../findings/index.js';
import { type ErrandStep, type Point, wordsFromInput } from '../../model/index.js';

export const errandValue = defineCheck({
  id: 'errand-value',
  severity: 'stop',
  scope: 'errand',
  meaning: 'A step of an errand writes or compares something that its point cannot hold.',
  find: ({ errand, points }) =>
    errand.steps.flatMap((step, index) => {
      const why = whyNot(step, points);
      return why === null
        ? []
        : {
            message: `${errand.name}, step ${index + 1}: ${why}`,
            mend: 'Choose another point, or write another value.',
            at: { entity: 'errand' as const, id: errand.id },
          };
    }),
});

/** Why a step cannot do what is stated; what an earlier step fills in is known only when it runs. */
function whyNot(step: ErrandStep, points: ReadonlyMap<string, Point>): string | null {
  const point = 'pointId' in step ? points.get(step.pointId) : undefined;
  if (!point) return null;
  if (step.kind === 'write' && point.access === 'read') return `${point.name} cannot be written.`;
  if (!('value' in step) || /\{\d+\}/.test(step.value)) return null;
  if (step.kind === 'compare' && step.sameAsId) return null;
  if (step.kind !== 'write') return whyNotCompared(point, step.is, step.value)?.message ?? null;
  const words = wordsFromInput(step.value, point);
  return words.ok ? null : words.problem.message;
}
