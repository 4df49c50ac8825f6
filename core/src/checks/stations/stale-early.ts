import { defineCheck, listed } from '../../findings/index.js';

/** A round may be late by as much as this part of its period. */
const LATE = 1.5;

export const staleEarly = defineCheck({
  id: 'stale-early',
  severity: 'warning',
  scope: 'stations',
  meaning: 'Values of an outstation count as old before they are written again, so that they are told as bad again and again.',
  find: ({ station: { outstation, points }, document }) => {
    const staleMs = outstation?.staleMs ?? null;
    if (!outstation || staleMs === null) return [];
    const own = new Set(points.map(({ id }) => id));
    const periods = new Map(document.rounds.map(({ id, periodMs }) => [id, periodMs]));
    const late = document.routes.filter(
      ({ destinationId, roundId, trigger }) =>
        own.has(destinationId) && (trigger.on !== 'round' || LATE * (periods.get(roundId) ?? 0) > staleMs),
    );
    if (late.length === 0) return [];
    const longest = Math.max(...late.map(({ roundId, trigger }) => (trigger.on === 'round' ? (periods.get(roundId) ?? 0) : Infinity)));
    return [
      {
        message: `${outstation.name} tells a value as old after ${staleMs} ms, and ${listed(late.map(({ name }) => name))} ${late.length === 1 ? 'writes' : 'write'} ${Number.isFinite(longest) ? `every ${longest} ms` : 'only on a change'}: what is good is told as bad between.`,
        mend: 'Let values be old after at least two rounds that write them.',
        about: late.map(({ id }) => id),
        at: { entity: 'port' as const, id: outstation.portId, field: 'staleMs' },
      },
    ];
  },
});
