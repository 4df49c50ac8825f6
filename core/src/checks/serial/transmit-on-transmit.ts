import { defineCheck, onLine } from '../../findings/index.js';
import { pairOf } from './pair.js';

export const transmitOnTransmit = defineCheck({
  id: 'transmit-on-transmit',
  severity: 'stop',
  scope: 'serial',
  meaning: 'On an RS-232 line both ends send into each other’s transmitters.',
  find: (bus) => {
    const pair = pairOf(bus);
    if (!pair) return [];
    const [a, b] = pair;
    const { name, cable } = bus.line;
    const isCrossed = cable.crossing === 'crossed';
    if ((a.port.plug === b.port.plug) === isCrossed) return [];
    return [
      {
        message: `On ${name} transmit meets transmit: ${a.name} is ${a.port.plug.toUpperCase()}, ${b.name} is ${b.port.plug.toUpperCase()}, and the cable is ${cable.crossing}.`,
        mend: `Use a ${isCrossed ? 'straight' : 'crossed'} cable.`,
        at: onLine(bus, 'crossing'),
      },
    ];
  },
});
