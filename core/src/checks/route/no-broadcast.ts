import { isBitTable } from '../../address/index.js';
import { defineCheck, fixOf, onRoute } from '../../findings/index.js';
import { whyNotBroadcast } from '../../plan/index.js';
import { chainOf, masksOf } from '../../route/index.js';

export const noBroadcast = defineCheck({
  id: 'no-broadcast',
  severity: 'stop',
  scope: 'route',
  meaning: 'A route goes out as a broadcast where none gets to its destination.',
  find: ({ names, look }) => {
    const { route, source, destination } = names;
    const way = look.way(destination.deviceId);
    if (!route.broadcast || !way.ok) return [];
    const device = look.device.get(look.askedAt(destination.deviceId))!;
    const isPartial = masksOf(chainOf(route, source, destination)) !== null && !isBitTable(destination.table);
    const isOwn = route.carrierId === destination.deviceId;
    const why = isOwn
      ? `it goes to the memory of ${device.name}, which makes the exchange itself.`
      : whyNotBroadcast(destination, device, way.value, isPartial);
    if (why === null) return [];
    return [
      {
        message: `It cannot go out as a broadcast: ${why}`,
        mend: 'Write to this device alone, or mend what keeps the broadcast from getting there.',
        fix: fixOf('Write to this device alone', 'route', route, { broadcast: false }),
        at: onRoute(names, 'broadcast'),
      },
    ];
  },
});
