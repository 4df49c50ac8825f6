import { defineCheck } from '../../findings/index.js';
import { stepOf } from '../../steps/index.js';

export const step = defineCheck({
  id: 'step',
  severity: 'stop',
  scope: 'ends',
  meaning: 'A step of a route cannot be done, or not at its place.',
  find: ({ carry, transforms }) =>
    (carry === 'registers' ? [] : transforms).flatMap((each, index) => {
      const wrong = stepOf(each.kind).check(each, index, transforms.length);
      return wrong ? { message: `Step ${index + 1}: ${wrong.message}`, mend: wrong.mend, field: 'transforms' as const } : [];
    }),
});
