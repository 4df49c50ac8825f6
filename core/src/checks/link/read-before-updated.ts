import { defineCheck, listed } from '../../findings/index.js';

export const readBeforeUpdated = defineCheck({
  id: 'read-before-updated',
  severity: 'advice',
  scope: 'link',
  meaning: 'Values of a cyclic link are read more often than its blocks come.',
  find: ({ link: { line, points, stationName }, document }) => {
    const inputs = new Set(points.flatMap(({ id, place }) => (place.kind === 'cyclic' && place.block === 'input' ? [id] : [])));
    const periods = new Map(document.rounds.map(({ id, periodMs }) => [id, periodMs]));
    const early = document.routes.filter(
      ({ sourceId, roundId, trigger }) =>
        trigger.on === 'round' && inputs.has(sourceId) && (periods.get(roundId) ?? Infinity) < line.intervalMs,
    );
    if (early.length === 0) return [];
    const periodMs = Math.min(...early.map(({ roundId }) => periods.get(roundId)!));
    return [
      {
        message: `${stationName}: ${listed(early.map(({ name }) => name))} ${early.length === 1 ? 'is' : 'are'} read every ${periodMs} ms, and ${line.name} brings a block every ${line.intervalMs} ms, so most reads bring nothing new.`,
        mend: `Put ${early.length === 1 ? 'it' : 'them'} into a round of ${line.intervalMs} ms or more, or shorten the interval of the link.`,
        about: early.map(({ id }) => id),
        at: { entity: 'line' as const, id: line.id, field: 'intervalMs' },
      },
    ];
  },
});
