import { defineCheck } from '../../findings/index.js';
import type { Chain } from '../../route/index.js';

/** As a value a bit is 0 or 1, which any number holds; a number is a bit only where a step makes it one. */
export function isBitAndRegister({ source, destination, carry, transforms }: Chain): boolean {
  if ((source.type === 'bit') === (destination.type === 'bit')) return false;
  return carry === 'registers' || (destination.type === 'bit' && transforms.length === 0);
}

export const bitAndRegister = defineCheck({
  id: 'bit-and-register',
  severity: 'stop',
  scope: 'ends',
  meaning: 'One end of a route is a single bit and the other a register.',
  find: (chain) => {
    if (!isBitAndRegister(chain)) return [];
    const { source, destination } = chain;
    const [bit, word] = source.type === 'bit' ? [source, destination] : [destination, source];
    return [
      {
        message: `${bit.name} is a single bit and ${word.name} a register of 16.`,
        mend:
          source.type === 'bit'
            ? 'Carry the value, which is 0 or 1, or choose a bit.'
            : 'Take out the bit that is meant by a step, or choose two registers.',
        field: 'destinationId',
      },
    ];
  },
});
