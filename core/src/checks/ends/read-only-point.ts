import { isWritable } from '../../address/index.js';
import { defineCheck } from '../../findings/index.js';

export const readOnlyPoint = defineCheck({
  id: 'read-only-point',
  severity: 'stop',
  scope: 'ends',
  meaning: 'The destination of a route may only be read.',
  find: ({ destination: { name, table, access } }) =>
    isWritable(table) && access === 'read'
      ? [
          {
            message: `${name} may only be read.`,
            mend: 'Choose another destination, or allow writing in the point’s access.',
            field: 'destinationId',
          },
        ]
      : [],
});
