import { defineCheck, fixOf } from '../../findings/index.js';

export const lostBeforeNext = defineCheck({
  id: 'lost-before-next',
  severity: 'warning',
  scope: 'telegram',
  meaning: 'A telegram counts as lost before the next one can come.',
  find: ({ telegram, device }) => {
    const { when, lostAfterMs } = telegram;
    const everyMs = when.on === 'period' ? when.periodMs : when.on === 'change' ? when.atLeastMs : null;
    if (telegram.direction !== 'sent' || everyMs === null || lostAfterMs > 1.5 * everyMs) return [];
    return [
      {
        message: `${device}: ${telegram.name} comes every ${everyMs} ms and counts as lost after ${lostAfterMs} ms, so one that is late makes its values bad.`,
        mend: `Wait for three of them: ${3 * everyMs} ms.`,
        fix: fixOf(`Lost after ${3 * everyMs} ms`, 'telegram', telegram, { lostAfterMs: 3 * everyMs }),
        at: { entity: 'telegram', id: telegram.id, field: 'lostAfterMs' },
      },
    ];
  },
});
