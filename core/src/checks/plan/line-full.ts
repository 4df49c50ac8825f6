import { defineCheck } from '../../findings/index.js';
import { requestTimeMs, serialLinesOf } from '../../plan/index.js';

const MANY = 0.8;

/** Judged by what the routes alone need, read and written one by one where they are not joined; the plan itself may need a little less. */
export const lineFull = defineCheck({
  id: 'line-full',
  severity: 'warning',
  scope: 'requests',
  meaning: 'A serial line carries more than fits into its time.',
  find: ({ requests, document }) => {
    const lineOf = serialLinesOf(document);
    const busy = new Map<string, { name: string; share: number; longest: { name: string; share: number } }>();
    for (const request of requests) {
      const line = lineOf.get(request.deviceId);
      if (!line || request.kind === 'watch' || request.local) continue;
      const share = requestTimeMs(line, request) / request.periodMs;
      const known = busy.get(line.id) ?? { name: line.name, share: 0, longest: { name: '', share: 0 } };
      known.share += share;
      if (share > known.longest.share) known.longest = { name: request.deviceName, share };
      busy.set(line.id, known);
    }
    return [...busy].flatMap(([id, { name, share, longest }]) => {
      if (share <= MANY) return [];
      const percent = Math.round(share * 100);
      const most = `${longest.name} takes most of it with one request, ${Math.round(longest.share * 100)} %`;
      return {
        ...(share > 1 ? {} : { severity: 'advice' as const }),
        message:
          share > 1
            ? `${name} would be busy ${percent} % of its time, which is more than there is, so its requests come late or not at all. ${most}.`
            : `${name} is busy ${percent} % of its time, so that one silent device makes all others late. ${most}.`,
        mend: 'Ask less often what may be older, ask several registers at once, or set a higher baud rate.',
        at: { entity: 'line' as const, id },
      };
    });
  },
});
