import type { TextCause } from './definition.js';

export const nothingCame: TextCause = {
  id: 'nothing-came',
  at: 'port',
  find: ({ device, port, telegrams }) => {
    if (port.bytes > 0 || port.framingErrors + port.parityErrors > 0) return null;
    if (port.upMs <= Math.max(...telegrams.map(({ lostAfterMs }) => lostAfterMs))) return null;
    const isAsked = telegrams.every(({ when }) => when.on === 'request');
    return {
      message: `Not one character came from ${device}.`,
      mend: isAsked
        ? 'It sends only when it is asked: see whether the question goes out, and in its form. Else look at its cable: its transmit wire belongs to the other’s receive.'
        : 'See whether it is on and set to send by itself. Then look at the cable: its transmit wire belongs to the other’s receive, and a handshake that waits holds it back.',
    };
  },
};
