import { defineCheck, fixOf, onLine } from '../../findings/index.js';

const HOURLY_MS = 3_600_000;

export const clockNeverSet = defineCheck({
  id: 'clock-never-set',
  severity: 'advice',
  scope: 'telecontrol',
  meaning: 'The clocks of outstations are set when the link opens and then no more, so that the times of their events drift.',
  find: (bus) => {
    const { line, members } = bus;
    if (line.clockEveryMs !== null || members.length < 2) return [];
    return [
      {
        message: `${line.name}: the clocks of its outstations are set only when the link opens. A clock drifts by about a second a day, and the times of events with it.`,
        mend: 'Set them every hour, or say on what else they get their time.',
        fix: fixOf('Set the clocks every hour', 'line', line, { clockEveryMs: HOURLY_MS }),
        at: onLine(bus, 'clockEveryMs'),
      },
    ];
  },
});
