import { defineCheck, onLine } from '../../findings/index.js';

export const standardNotRun = defineCheck({
  id: 'standard-not-run',
  severity: 'warning',
  scope: 'telecontrol',
  meaning: 'A telecontrol line follows a standard that does not run here.',
  find: (bus) =>
    bus.line.standard === 'iec60870-5-101'
      ? [
          {
            message: `${bus.line.name} follows IEC 60870-5-101, which goes over a serial line; here it is drawn only, and nothing of it runs.`,
            mend: 'Choose IEC 60870-5-104 or IEEE 1815 where its ends have them over TCP.',
            at: onLine(bus, 'standard'),
          },
        ]
      : [],
});
