import { defineCheck, fixOf } from '../../findings/index.js';

const OPEN = /^Open: (.*)$/m;

/** What an import did not understand of a row stands in the note of its point until a person has settled it. */
export const leftOpen = defineCheck({
  id: 'left-open',
  severity: 'warning',
  scope: 'map',
  meaning: 'Something of a point was not understood when it was imported, and nobody has settled it yet.',
  find: ({ device, points }) =>
    points.flatMap((point) => {
      const question = OPEN.exec(point.note)?.[1];
      if (question === undefined) return [];
      const note = point.note
        .split('\n')
        .filter((line) => !OPEN.test(line))
        .join('\n');
      return [
        {
          message: `${device}: of ${point.name} it is open what its manual says: ${question}`,
          mend: 'Look it up in the manual, set it, and take the line out of its note.',
          fix: fixOf(`${point.name} is right as it is`, 'point', point, { note }),
          at: { entity: 'point' as const, id: point.id, field: 'note' },
        },
      ];
    }),
});
