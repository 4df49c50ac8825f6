import { defineCheck, onRoute } from '../../findings/index.js';
import type { Point } from '../../model/index.js';
import { whyNotRead, whyNotWritten } from '../../plan/index.js';

export const cannotCarry = defineCheck({
  id: 'cannot-carry',
  severity: 'stop',
  scope: 'route',
  meaning: 'No single request of its device can read or write a point of a route.',
  find: ({ names, look }) => {
    const { source, destination, others, valid, releasing } = names;
    const check = (point: Point, why: string | null) =>
      why === null
        ? []
        : [
            {
              message: `${look.device.get(point.deviceId)!.name}, ${point.name}: ${why}`,
              mend: 'Correct the point, or what the device takes, under Registers.',
              at: onRoute(names),
            },
          ];
    const read = [source, ...others].filter((point) => point !== undefined);
    // That a destination may only be read is said at the ends.
    const written = [destination, valid, releasing].filter((point) => !!point && point.access !== 'read') as Point[];
    return [
      ...read.flatMap((point) => check(point, whyNotRead(point, look.device.get(point.deviceId)!))),
      ...written.flatMap((point) => check(point, whyNotWritten(point, look.device.get(point.deviceId)!))),
    ];
  },
});
