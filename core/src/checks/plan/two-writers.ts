import { defineCheck, fixOf, onRoute } from '../../findings/index.js';
import { byRegister, deviceName, type ValidRoute } from '../../plan/index.js';

export const twoWriters = defineCheck({
  id: 'two-writers',
  severity: 'warning',
  scope: 'plan',
  doubts: true,
  meaning: 'Two routes write the same register, so that each undoes the other.',
  find: ({ routes, look }) => {
    const written = byRegister(routes.map((own) => own.written));
    const seen = new Set<ValidRoute>();
    return routes.flatMap(({ row, written: own }) => {
      const shared = own.flatMap((cell) => written.get(cell.key)!.filter((other) => other.bits & cell.bits && seen.has(other.row)));
      seen.add(row);
      const first = shared[0]?.row;
      if (!first) return [];
      const { destination, route } = row;
      return {
        message: `${route.name}: ${deviceName(destination, look)}, ${destination.name}, is written by ${first.route.name} from ${deviceName(first.source, look)} as well, so each undoes the other.`,
        mend: 'Delete one of the two routes, or let a bit choose between them.',
        fixes: [row, first].map((one) => fixOf(`Delete ${one.route.name}`, 'route', one.route, null)),
        about: [first.route.id],
        at: onRoute(row, 'destinationId'),
      };
    });
  },
});
