import { defineCheck, fixOf, onRoute } from '../../findings/index.js';

export const stillShort = defineCheck({
  id: 'still-short',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A route counts as lost when its value stands still for less than two of its periods.',
  find: ({ routes }) =>
    routes.flatMap(({ row }) => {
      const { route, round } = row;
      const { stillMs } = route.loss;
      if (!isStillTooShort(row)) return [];
      return {
        message: `${route.name} counts as lost when it stands still for ${stillMs} ms, and it comes every ${round.periodMs} ms, so one that is late is a loss.`,
        mend: 'Let it stand still for two or three of its periods.',
        fix: fixOf(`Allow ${3 * round.periodMs} ms`, 'route', route, { loss: { ...route.loss, stillMs: 3 * round.periodMs } }),
        at: onRoute(row, 'loss'),
      };
    }),
});

/** Such a route says of itself that it is lost; its watchdog is judged once that is mended. */
export function isStillTooShort({ route, round }: { route: { loss: { stillMs: number | null } }; round: { periodMs: number } }): boolean {
  const { stillMs } = route.loss;
  return stillMs !== null && stillMs < 2 * round.periodMs;
}
