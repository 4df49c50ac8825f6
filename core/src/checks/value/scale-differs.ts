import { defineCheck } from '../../findings/index.js';
import { formulaOf, type Scale } from '../../value/index.js';
import { differing, layoutsOf } from './registers.js';

export const scaleDiffers = defineCheck({
  id: 'scale-differs',
  severity: 'warning',
  scope: 'value',
  doubts: true,
  meaning: 'Registers cross as they are between two points of different scales.',
  find: (row) => {
    const layouts = layoutsOf(row);
    if (!layouts || layouts.isOfBits || layouts.from.type !== layouts.to.type) return [];
    const [from, to] = [layouts.from.scale, layouts.to.scale].map(formula);
    return from === to ? [] : differing(row, `at the source ${from}, and at the destination ${to}`, ['scale', 'unit']);
  },
});

function formula(scale: Scale | undefined): string {
  return scale ? formulaOf(scale) : 'value = raw';
}
