import { defineCheck, onLine } from '../../findings/index.js';
import { standards } from '../../line/index.js';
import { isLaid, longestStretch } from './cable.js';

export const lineLength = defineCheck({
  id: 'line-length',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A bus is longer than its standard reaches without a repeater.',
  find: (bus) => {
    const { name, mostM, levels } = standards[bus.line.standard];
    const longest = longestStretch(bus);
    if (!isLaid(bus) || levels === 'rs232' || longest <= mostM) return [];
    return [
      {
        message: `${bus.line.name} is ${longest} m long; ${name} reaches about ${mostM} m.`,
        mend: 'Put a repeater in.',
        at: onLine(bus, 'lengthM'),
      },
    ];
  },
});
