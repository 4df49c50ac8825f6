import { defineCheck } from '../../findings/index.js';
import type { Chain } from '../../route/index.js';
import { isText } from '../../types/index.js';
import { isBitAndRegister } from './bit-and-register.js';

export function isTextAndNumber(chain: Chain): boolean {
  const { source, destination, carry, transforms } = chain;
  if (isBitAndRegister(chain) || carry === 'registers' || transforms.length > 0) return false;
  return isText(source.type) !== isText(destination.type);
}

export const textAndNumber = defineCheck({
  id: 'text-and-number',
  severity: 'stop',
  scope: 'ends',
  meaning: 'One end of a route is text and the other a number.',
  find: (chain) => {
    if (!isTextAndNumber(chain)) return [];
    const { source, destination } = chain;
    const [text, number] = isText(source.type) ? [source, destination] : [destination, source];
    return [
      {
        message: `${text.name} is text and ${number.name} a number.`,
        mend: 'Choose two texts or two numbers, or carry the registers as they are.',
        field: 'destinationId',
      },
    ];
  },
});
