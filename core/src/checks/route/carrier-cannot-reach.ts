import { defineCheck, onRoute } from '../../findings/index.js';
import { devicesOf } from '../../plan/index.js';

export const carrierCannotReach = defineCheck({
  id: 'carrier-cannot-reach',
  severity: 'stop',
  scope: 'route',
  meaning: 'The carrier of a route asks on no line that leads to a device of the route.',
  find: ({ names, look }) =>
    devicesOf(names).flatMap((deviceId) => {
      const { carrierId } = names.route;
      const why = carrierId && look.way(deviceId).ok ? look.carrierReaches(carrierId, deviceId) : null;
      return why ? { message: why, mend: 'Choose another carrier, or put both on one line.', at: onRoute(names, 'carrierId') } : [];
    }),
});
