import { defineCheck } from '../../findings/index.js';
import { occupancy } from '../../occupancy/index.js';

const MANY = 0.8;

export const lineFull = defineCheck({
  id: 'line-full',
  severity: 'warning',
  scope: 'requests',
  meaning: 'A serial line carries more than fits into its time.',
  find: ({ requests, document }) =>
    [...occupancy(document, requests)].flatMap(([id, { share, longest }]) => {
      if (share <= MANY || !longest) return [];
      const name = document.lines.find((line) => line.id === id)!.name;
      const percent = Math.round(share * 100);
      const most = `${longest.request.deviceName} takes most of it with one request, ${Math.round(longest.share * 100)} %`;
      return {
        ...(share > 1 ? {} : { severity: 'advice' as const }),
        message:
          share > 1
            ? `${name} would be busy ${percent} % of its time, which is more than there is, so its requests come late or not at all. ${most}.`
            : `${name} is busy ${percent} % of its time, so that one silent device makes all others late. ${most}.`,
        mend: 'Ask less often what may be older, ask several registers at once, or set a higher baud rate.',
        at: { entity: 'line' as const, id },
      };
    }),
});
