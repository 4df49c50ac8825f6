import { defineCheck, onRoute } from '../../findings/index.js';
import { devicesOf } from '../../plan/index.js';

export const unreachable = defineCheck({
  id: 'unreachable',
  severity: 'stop',
  scope: 'route',
  meaning: 'A device that a route reads or writes cannot be reached.',
  find: ({ names, look }) =>
    devicesOf(names).flatMap((deviceId) => {
      const way = look.way(deviceId);
      return way.ok
        ? []
        : { message: way.problem.message, mend: 'Give the device a port on a line that Plain Envoy reaches.', at: onRoute(names) };
    }),
});
