import { defineCheck } from '../../findings/index.js';

export const writeOnlySource = defineCheck({
  id: 'write-only-source',
  severity: 'stop',
  scope: 'ends',
  meaning: 'The source of a route may only be written.',
  find: ({ source: { name, access } }) =>
    access === 'write'
      ? [
          {
            message: `${name} may only be written, so there is nothing to read.`,
            mend: 'Choose another source, or allow reading in the point’s access.',
            field: 'sourceId',
          },
        ]
      : [],
});
