import { readSamples } from '../../text-line/index.js';
import { defineCheck } from '../../findings/index.js';
import { characterMs, settingsOf } from '../../line/index.js';

export const longerThanPeriod = defineCheck({
  id: 'longer-than-period',
  severity: 'warning',
  scope: 'telegram',
  meaning: 'A telegram takes longer on its line than the time until the next.',
  find: ({ telegram, device, line }) => {
    const { when, telegram: shape } = telegram;
    if (when.on !== 'period' || line?.kind !== 'serial') return [];
    const length = shape.length ?? Math.max(0, ...readSamples(telegram).map(({ bytes }) => bytes));
    const takesMs = length * characterMs(settingsOf(line));
    if (takesMs <= when.periodMs) return [];
    return [
      {
        message: `${device}: ${length} characters of ${telegram.name} take ${Math.ceil(takesMs)} ms on ${line.name}, and the next is due after ${when.periodMs} ms.`,
        mend: 'Send it less often, or set the line to a higher speed.',
        at: { entity: 'telegram', id: telegram.id, field: 'when' },
      },
    ];
  },
});
