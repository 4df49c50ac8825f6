import { defineCheck } from '../../findings/index.js';
import { type Point, pointWidth } from '../../model/index.js';
import { isText } from '../../types/index.js';
import { asValue } from './as-value.js';
import { isBitAndRegister } from './bit-and-register.js';

export const width = defineCheck({
  id: 'width',
  severity: 'stop',
  scope: 'ends',
  meaning: 'The two ends of a route take different numbers of registers, so that these cannot be copied as they are.',
  find: (chain) => {
    const { source, destination, carry } = chain;
    if (isBitAndRegister(chain) || carry !== 'registers' || pointWidth(source) === pointWidth(destination)) return [];
    return [
      {
        message: `${source.name} takes ${registers(source)} and ${destination.name} ${registers(destination)}, so they cannot be copied as they are.`,
        mend: 'Carry the value instead, or give both ends the same width.',
        field: 'carry',
        ...(isText(source.type) || isText(destination.type) ? {} : { fix: asValue }),
      },
    ];
  },
});

function registers(point: Point): string {
  const count = pointWidth(point);
  return `${count} register${count === 1 ? '' : 's'} (${point.type})`;
}
