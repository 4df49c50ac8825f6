import { defineCheck } from '../../findings/index.js';

export const fieldGone = defineCheck({
  id: 'field-gone',
  severity: 'stop',
  scope: 'telegram',
  doubts: true,
  meaning: 'A point lies in a field that its telegram does not have.',
  find: ({ telegram, points }) =>
    points.flatMap((point) => {
      const { place } = point;
      if (place.kind !== 'field' || telegram.telegram.fields.some(({ name }) => name === place.field)) return [];
      return {
        message: `${point.name} is field “${place.field}” of ${telegram.name}, which has no such field.`,
        mend: `Choose one of its fields: ${telegram.telegram.fields.map(({ name }) => name).join(', ')}.`,
        at: { entity: 'point' as const, id: point.id, field: 'place' },
      };
    }),
});
