import { readSamples } from '../../text-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const samplesNotRead = defineCheck({
  id: 'samples-not-read',
  severity: 'warning',
  scope: 'telegram',
  doubts: true,
  meaning: 'Lines that really came are no such telegram as it is described.',
  find: ({ telegram, device }) => {
    const samples = readSamples(telegram);
    const bad = samples.filter(({ ok }) => !ok);
    const [first] = bad;
    if (!first) return [];
    return [
      {
        message: `${device}: of ${samples.length === 1 ? 'the sample' : `${samples.length} samples`} of ${telegram.name} ${bad.length} ${bad.length === 1 ? 'does' : 'do'} not match; “${first.text}”: ${first.problem}`,
        mend: 'Mend the telegram beside its samples on Registers, under Telegrams.',
        at: { entity: 'telegram', id: telegram.id, field: 'telegram' },
      },
    ];
  },
});
