import { defineCheck, fixOf, onRoute } from '../../findings/index.js';
import type { ValidRoute } from '../../plan/index.js';

/** Devices that trip when they are not written for a while, and may be left alone for longer. */
export const writtenTooSeldom = defineCheck({
  id: 'written-too-seldom',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A device trips when nothing is written to it for a while, and it may be left alone for longer.',
  find: ({ routes, look }) => {
    const byDevice = new Map<string, ValidRoute[]>();
    for (const { row } of routes) {
      const { deviceId } = row.destination;
      if (look.device.get(deviceId)?.writeTimeoutMs) byDevice.set(deviceId, [...(byDevice.get(deviceId) ?? []), row]);
    }
    return [...byDevice].flatMap(([deviceId, rows]) => {
      const { name, writeTimeoutMs } = look.device.get(deviceId)!;
      const steady = rows.filter(({ route }) => route.trigger.on === 'round' && !route.onlyDifferent && !route.whileId);
      const fastest = [...steady].sort((a, b) => a.round.periodMs - b.round.periodMs)[0];
      if (fastest && fastest.round.periodMs < writeTimeoutMs!) return [];
      const rare = fastest ? `every ${fastest.round.periodMs} ms` : 'only when something changes';
      const quicker = [...look.round.values()]
        .filter(({ periodMs }) => periodMs * 2 <= writeTimeoutMs!)
        .sort((a, b) => b.periodMs - a.periodMs)[0];
      const row = fastest ?? rows[0]!;
      return {
        message: `${row.route.name}: ${name} trips when nothing is written to it for ${writeTimeoutMs} ms, and it is written ${rare}.`,
        mend: 'Carry one of its values in a round of at most half that time.',
        fix: fastest && quicker && fixOf(`Move it to “${quicker.name}”`, 'route', fastest.route, { roundId: quicker.id }),
        at: onRoute(row, 'roundId'),
      };
    });
  },
});
