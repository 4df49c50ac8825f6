import { defineCheck, fixOf, onRoute } from '../../findings/index.js';

export const neverReleased = defineCheck({
  id: 'never-released',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A point that a route writes is ignored until another is set, and nothing sets that.',
  find: ({ routes, look }) => {
    const set = new Set(routes.flatMap(({ row: { destination, release } }) => [destination.id, ...(release ? [release.point.id] : [])]));
    return routes.flatMap(({ row }) => {
      const { releasedBy, name } = row.destination;
      const by = releasedBy ? look.point.get(releasedBy) : undefined;
      if (!by || set.has(by.id)) return [];
      return {
        message: `${row.route.name}: ${name} is ignored until ${by.name} is set, and nothing sets it.`,
        mend: `Set ${by.name} to 1 before the value, or route something to it.`,
        fix: fixOf(`Set ${by.name} before it`, 'route', row.route, { release: { pointId: by.id, value: 1, when: 'before' } }),
        at: onRoute(row, 'release'),
      };
    });
  },
});
