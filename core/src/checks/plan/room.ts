import { defineCheck, fixOf, limited, listed } from '../../findings/index.js';
import type { ValidRoute } from '../../plan/index.js';

/** Values of floats and formulas, which could be more than their destinations hold; said once for each device. */
export const room = defineCheck({
  id: 'room',
  severity: 'advice',
  scope: 'plan',
  meaning: 'A value without known limits goes to a destination that does not hold all of it.',
  find: ({ routes, look }) => {
    const byDevice = new Map<string, ValidRoute[]>();
    for (const { row, mayOverflow } of routes) {
      if (!mayOverflow) continue;
      const { deviceId } = row.destination;
      const known = byDevice.get(deviceId);
      if (known) known.push(row);
      else byDevice.set(deviceId, [row]);
    }
    return [...byDevice].map(([deviceId, rows]) => {
      const changes = rows.flatMap((row) => fixOf('', 'route', row.route, limited(row)).changes);
      const [it, takes] = rows.length === 1 ? ['it', 'takes'] : ['them', 'take'];
      return {
        message: `${look.device.get(deviceId)?.name ?? ''}: ${listed(rows.map(({ destination }) => destination.name))} ${takes} a value that has no known limits, and what does not fit is not carried.`,
        mend: `Limit ${it} by a step, if the value could be so large.`,
        fix: { label: rows.length === 1 ? 'Limit it by a step' : `Limit all ${rows.length} by a step`, changes },
        at: { entity: 'device' as const, id: deviceId },
      };
    });
  },
});
