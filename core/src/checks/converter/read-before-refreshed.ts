import { defineCheck, listed } from '../../findings/index.js';

export const readBeforeRefreshed = defineCheck({
  id: 'read-before-refreshed',
  severity: 'advice',
  scope: 'converter',
  meaning: 'Values are read more often than they come to the converter.',
  find: ({ converter, far, document }) =>
    document.telegrams.flatMap((telegram) => {
      const { when } = telegram;
      if (telegram.direction !== 'sent' || when.on !== 'period') return [];
      const own = new Set(far.filter(({ place }) => place.kind === 'field' && place.telegramId === telegram.id).map(({ id }) => id));
      const rounds = new Map(document.rounds.map(({ id, periodMs }) => [id, periodMs]));
      const early = document.routes.filter(
        ({ sourceId, roundId, trigger }) =>
          trigger.on === 'round' && own.has(sourceId) && (rounds.get(roundId) ?? Infinity) < when.periodMs,
      );
      if (early.length === 0) return [];
      const periodMs = Math.min(...early.map(({ roundId }) => rounds.get(roundId)!));
      return {
        message: `${converter.name}: ${listed(early.map(({ name }) => name))} ${early.length === 1 ? 'is' : 'are'} read every ${periodMs} ms, and ${telegram.name} comes every ${when.periodMs} ms, so most reads bring nothing new.`,
        mend: `Put ${early.length === 1 ? 'it' : 'them'} into a round of ${when.periodMs} ms or more, or carry on a change.`,
        about: early.map(({ id }) => id),
        at: { entity: 'telegram' as const, id: telegram.id, field: 'when' },
      };
    }),
});
