import { defineCheck, onLine } from '../../findings/index.js';

export const rs232Parties = defineCheck({
  id: 'rs232-parties',
  severity: 'stop',
  scope: 'serial',
  meaning: 'More than two devices are on an RS-232 line.',
  find: (bus) =>
    bus.line.standard === 'rs232' && bus.members.length > 2
      ? [
          {
            message: `${bus.members.length} devices are on ${bus.line.name}; RS-232 joins two.`,
            mend: 'Use RS-485 for more than two, or a line for each pair.',
            at: onLine(bus),
          },
        ]
      : [],
});
