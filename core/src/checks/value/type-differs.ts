import { defineCheck } from '../../findings/index.js';
import { differing, layoutsOf } from './registers.js';

export const typeDiffers = defineCheck({
  id: 'type-differs',
  severity: 'warning',
  scope: 'value',
  doubts: true,
  meaning: 'Registers cross as they are between two points of different types.',
  find: (row) => {
    const layouts = layoutsOf(row);
    if (!layouts || layouts.isOfBits || layouts.from.type === layouts.to.type) return [];
    return differing(row, `${row.source.name} is ${layouts.from.type} and ${row.destination.name} ${layouts.to.type}`, ['type']);
  },
});
