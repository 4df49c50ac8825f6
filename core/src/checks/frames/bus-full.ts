import { defineCheck } from '../../findings/index.js';

/** Beyond this a bus has no room for what is sent again after an error. */
const MOST = 0.7;

export const busFull = defineCheck({
  id: 'bus-full',
  severity: 'warning',
  scope: 'frames',
  meaning: 'The frames of a CAN bus fill more than 70 % of it.',
  find: ({ line, time }) =>
    time.load <= MOST
      ? []
      : [
          {
            message: `Its frames fill ${Math.round(100 * time.load)} % of ${line.name} at worst; beyond ${100 * MOST} % there is no room for what is sent again after an error${time.load >= 1 ? ', and from 100 % on the last of them never come' : ''}.`,
            mend: 'Send what is not urgent less often, put signals together into fewer frames, or run the bus faster where its length allows it.',
            at: { entity: 'line' as const, id: line.id, field: 'bitrate' },
          },
        ],
});
