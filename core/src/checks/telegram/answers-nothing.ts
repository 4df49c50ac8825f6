import { defineCheck } from '../../findings/index.js';

export const answersNothing = defineCheck({
  id: 'answers-nothing',
  severity: 'stop',
  scope: 'telegram',
  meaning: 'A telegram is the answer to one that its device does not take.',
  find: ({ telegram, device, others }) => {
    const { when } = telegram;
    if (when.on !== 'request') return [];
    const asked = others.find(({ id }) => id === when.telegramId);
    if (asked?.direction === 'taken' && asked.deviceId === telegram.deviceId) return [];
    return [
      {
        message: `${device}: ${telegram.name} comes in answer to ${asked ? `${asked.name}, which ${device} does not take` : 'a telegram that is gone'}.`,
        mend: 'Say which telegram asks for it.',
        at: { entity: 'telegram', id: telegram.id, field: 'when' },
      },
    ];
  },
});
