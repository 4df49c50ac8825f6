import { defineCheck, onRoute } from '../../findings/index.js';
import { alsoReached } from '../../plan/index.js';

/** Every unit takes a broadcast, whatever it keeps at that place. */
export const broadcastElsewhere = defineCheck({
  id: 'broadcast-elsewhere',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A broadcast reaches a device that has something else at the same place, or nothing that the project knows of.',
  find: ({ routes, look }) =>
    routes.flatMap(({ row }) => {
      const { route, destination } = row;
      if (!route.broadcast) return [];
      const others = alsoReached(look.document, destination).filter(
        ({ there }) => !there || there.name !== destination.name || there.type !== destination.type,
      );
      if (others.length === 0) return [];
      const told = others.map(({ device, there }) => `${device.name} (${there ? there.name : 'no point there'})`).join(', ');
      return {
        message: `${route.name}: the broadcast is taken by every unit of the line, and these do not have ${destination.name} at offset ${destination.offset}: ${told}.`,
        mend: 'Look into their papers what that register does there; if it is the same, name it alike in their maps; else write to each device by itself.',
        at: onRoute(row, 'broadcast'),
      };
    }),
});
