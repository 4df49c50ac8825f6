import { defineCheck, fixOf, onRoute } from '../../findings/index.js';

export const routeIncomplete = defineCheck({
  id: 'route-incomplete',
  severity: 'stop',
  scope: 'names',
  meaning: 'A route names a point, a round or a carrier that is no longer there.',
  find: ({ route, names }) => {
    const at = onRoute({ route });
    if (!names) {
      const message = 'its source, destination or round is no longer there.';
      const mend = 'Choose both ends and a round, or delete the route.';
      return [{ message, mend, fix: fixOf('Delete the route', 'route', route, null), at }];
    }
    if (names.others.includes(undefined) || names.valid === undefined || names.releasing === undefined)
      return [{ message: 'a point that it names beside its two ends is no longer there.', mend: 'Choose another, or take it away.', at }];
    if (names.carrier === undefined)
      return [{ message: 'its carrier is no longer there.', mend: 'Choose who carries it.', at: onRoute({ route }, 'carrierId') }];
    return [];
  },
});
