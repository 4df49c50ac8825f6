import { defineCheck } from '../../findings/index.js';
import { widerIn } from '../wider.js';

export const blockWider = defineCheck({
  id: 'block-wider',
  severity: 'stop',
  scope: 'link',
  doubts: true,
  meaning: 'A value of a cyclic block has more bits than the registers in which it shall come.',
  find: ({ link: { points } }) =>
    widerIn(points, ({ place }) => (place.kind === 'cyclic' ? { bits: place.bits, of: `the ${place.block}` } : null)),
});
