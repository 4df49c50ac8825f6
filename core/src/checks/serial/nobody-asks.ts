import { defineCheck, onLine } from '../../findings/index.js';

export const nobodyAsks = defineCheck({
  id: 'only-waiting',
  severity: 'stop',
  scope: 'serial',
  meaning: 'Everyone on a serial line waits to be asked.',
  find: (bus) => {
    const { line, members } = bus;
    if (line.framing === 'text' || members.length < 2 || line.boundTo || members.some(({ port }) => port.unitId === null)) return [];
    return [
      {
        message: `Everyone on ${line.name} waits to be asked, and nobody asks.`,
        mend: 'Make one device the one that asks: a controller, a gateway, or a port of this machine.',
        at: onLine(bus),
      },
    ];
  },
});
