import { defineCheck, onLine } from '../../findings/index.js';
import { standards } from '../../line/index.js';
import { isLaid, longestStretch } from './cable.js';

export const rs232Length = defineCheck({
  id: 'rs232-length',
  severity: 'warning',
  scope: 'serial',
  meaning: 'An RS-232 cable is longer than such a line reaches.',
  find: (bus) => {
    const { name, mostM, levels } = standards[bus.line.standard];
    const longest = longestStretch(bus);
    if (!isLaid(bus) || levels !== 'rs232' || longest <= mostM) return [];
    return [
      {
        message: `${bus.line.name} is ${longest} m long; ${name} reaches about ${mostM} m.`,
        mend: 'Shorten it, or convert to RS-485 or RS-422 near one end.',
        at: onLine(bus, 'lengthM'),
      },
    ];
  },
});
