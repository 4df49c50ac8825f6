import { defineCheck } from '../../findings/index.js';
import { type Errand, pointsOfErrand } from '../../model/index.js';

export const errandPointGone = defineCheck({
  id: 'errand-point-gone',
  severity: 'stop',
  scope: 'errand',
  meaning: 'A step of an errand names a point that is no longer in the project.',
  find: ({ errand, points }) =>
    placesOf(errand)
      .filter(({ pointIds }) => pointIds.some((id) => !points.has(id)))
      .map(({ place }) => ({
        message: `${errand.name}, ${place}: its point is no longer in the project.`,
        mend: 'Choose another point, or delete the step.',
        at: { entity: 'errand' as const, id: errand.id },
      })),
});

function placesOf({ trigger, steps }: Errand): { place: string; pointIds: string[] }[] {
  return [
    { place: 'what sets it off', pointIds: pointsOfErrand({ trigger, steps: [] }) },
    ...steps.map((step, index) => ({ place: `step ${index + 1}`, pointIds: pointsOfErrand({ trigger: { on: 'hand' }, steps: [step] }) })),
  ];
}
