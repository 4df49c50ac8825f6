import { defineCheck, onLine } from '../../findings/index.js';
import { BAUD_METRES, standards } from '../../line/index.js';
import { isLaid, longestStretch } from './cable.js';

export const baudLength = defineCheck({
  id: 'baud-length',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A bus is longer than is good at its baud rate.',
  find: (bus) => {
    const { name, baud, standard } = bus.line;
    const { mostM, levels } = standards[standard];
    const longest = longestStretch(bus);
    if (!isLaid(bus) || levels === 'rs232' || longest > mostM || baud * longest <= BAUD_METRES) return [];
    return [
      {
        message: `At ${baud} baud about ${Math.floor(BAUD_METRES / baud)} m are good; ${name} is ${longest} m long.`,
        mend: `Use a slower rate, at most ${Math.floor(BAUD_METRES / longest)} baud, or a repeater.`,
        at: onLine(bus, 'lengthM'),
      },
    ];
  },
});
