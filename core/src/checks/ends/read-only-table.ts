import { isWritable, tableNames } from '../../address/index.js';
import { defineCheck } from '../../findings/index.js';

export const readOnlyTable = defineCheck({
  id: 'read-only-table',
  severity: 'stop',
  scope: 'ends',
  meaning: 'The destination of a route is in a table that no function writes.',
  find: ({ destination: { name, table } }) =>
    isWritable(table)
      ? []
      : [
          {
            message: `${name} is in a read-only table: no function writes ${tableNames[table].many}.`,
            mend: 'Choose a coil or a holding register as the destination, or turn the route round.',
            field: 'destinationId',
          },
        ],
});
