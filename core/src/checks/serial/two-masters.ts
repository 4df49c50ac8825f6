import { defineCheck, onLine } from '../../findings/index.js';

export const twoMasters = defineCheck({
  id: 'two-ask',
  severity: 'stop',
  scope: 'serial',
  meaning: 'Two masters are on one serial line, where only one may ask.',
  find: (bus) => {
    const { line, members } = bus;
    const masters = members.filter(({ port }) => port.unitId === null);
    if (line.framing === 'text' || masters.length < 2) return [];
    return [
      {
        message: `${masters.map(({ name }) => name).join(' and ')} both ask on ${line.name}: on a serial line only one may, or their frames collide.`,
        mend: 'Let one ask, and give the other a unit ID so that it answers.',
        at: onLine(bus),
      },
    ];
  },
});
