import { defineCheck, onRoute } from '../../findings/index.js';
import { deviceName, type ValidRoute } from '../../plan/index.js';

const FEWEST = 3;

/** Routes between two devices mostly keep one distance between the offsets at both ends; one that misses it by one was miscounted. */
export const placeUnlikeOthers = defineCheck({
  id: 'place-unlike-others',
  severity: 'warning',
  scope: 'plan',
  doubts: true,
  meaning: 'A route ends one register beside where the routes like it would put it.',
  find: ({ routes, look }) => {
    const groups = new Map<string, ValidRoute[]>();
    for (const { row } of routes) {
      const { source, destination } = row;
      const key = [source.deviceId, source.table, destination.deviceId, destination.table].join(' ');
      groups.set(key, [...(groups.get(key) ?? []), row]);
    }
    return [...groups.values()].flatMap((alike) => {
      const counts = new Map<number, number>();
      for (const row of alike) counts.set(distance(row), (counts.get(distance(row)) ?? 0) + 1);
      const [usual, times] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [0, 0];
      if (times < FEWEST) return [];
      return alike
        .filter((row) => Math.abs(distance(row) - usual) === 1)
        .map((row) => ({
          message: `${row.route.name}: ${times} routes from ${deviceName(row.source, look)} to ${deviceName(row.destination, look)} keep the distance ${usual} between their offsets, and this one ${distance(row)}. One end is probably off by one.`,
          mend: 'Look both ends up in the papers.',
          at: onRoute(row, 'destinationId'),
        }));
    });
  },
});

function distance({ source, destination }: ValidRoute): number {
  return destination.offset - source.offset;
}
