import { defineCheck } from '../../findings/index.js';
import { pointWidth } from '../../model/index.js';
import { differing, layoutsOf } from './registers.js';

export const orderNotSwapped = defineCheck({
  id: 'order-not-swapped',
  severity: 'warning',
  scope: 'value',
  doubts: true,
  meaning: 'Registers cross as they are between two points in different byte orders.',
  find: (row) => {
    const { source, destination } = row;
    const layouts = layoutsOf(row);
    if (!layouts || pointWidth(source) === 1 || source.order === destination.order) return [];
    if (!layouts.isOfBits && layouts.from.type !== layouts.to.type) return [];
    return differing(row, `${source.name} is in the order ${source.order} and ${destination.name} in ${destination.order}`, ['order']);
  },
});
