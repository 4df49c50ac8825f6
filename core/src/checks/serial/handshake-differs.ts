import { defineCheck, onPort } from '../../findings/index.js';
import { pairOf } from './pair.js';

export const handshakeDiffers = defineCheck({
  id: 'handshake-differs',
  severity: 'stop',
  scope: 'serial',
  meaning: 'The two ends of an RS-232 line use different handshakes.',
  find: (bus) => {
    const [a, b] = pairOf(bus) ?? [];
    if (!a || !b || a.port.handshake === b.port.handshake) return [];
    return [
      {
        message: `${a.name} uses the handshake ${a.port.handshake}, ${b.name} ${b.port.handshake}: one waits for a line that the other never moves.`,
        mend: 'Set the same handshake on both.',
        at: onPort(b, 'handshake'),
      },
    ];
  },
});
