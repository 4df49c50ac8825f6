import { defineCheck } from '../../findings/index.js';

export const samePoint = defineCheck({
  id: 'same-point',
  severity: 'stop',
  scope: 'ends',
  meaning: 'A route carries a point to itself.',
  find: ({ source, destination }) =>
    source.id === destination.id
      ? [{ message: `${source.name} would be carried to itself.`, mend: 'Choose another destination.', field: 'destinationId' }]
      : [],
});
