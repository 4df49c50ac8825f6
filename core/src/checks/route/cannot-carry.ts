import { defineCheck, type Found, onRoute } from '../../findings/index.js';
import type { Point } from '../../model/index.js';
import { whyNotRead, whyNotWritten } from '../../plan/index.js';

export const cannotCarry = defineCheck({
  id: 'cannot-carry',
  severity: 'stop',
  scope: 'route',
  meaning: 'No single request of its device can read or write a point of a route.',
  find: ({ names, look }) => {
    const found: Found[] = [];
    const check = (point: Point, whyNot: typeof whyNotRead) => {
      const device = look.device.get(look.askedAt(point.deviceId))!;
      const why = whyNot(point, device);
      if (why === null) return;
      const mend = 'Correct the point, or what the device takes, under Registers.';
      found.push({ message: `${device.name}, ${point.name}: ${why}`, mend, at: onRoute(names) });
    };
    for (const point of [names.source, ...names.others]) if (point) check(point, whyNotRead);
    // That a destination may only be read is said at the ends.
    for (const point of [names.destination, names.valid, names.releasing])
      if (point && point.access !== 'read') check(point, whyNotWritten);
    return found;
  },
});
