import { defineCheck, onRoute } from '../../findings/index.js';
import { MASK_WRITE } from '../../frame/index.js';

/** A device without mask write needs its register read before a part of it is written. */
export const bitsNotReadable = defineCheck({
  id: 'bits-not-readable',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A route writes bits of a register that may only be written, so that its other bits cannot be kept.',
  find: ({ routes, look }) =>
    routes.flatMap(({ row, isPartial }) => {
      const { destination, route } = row;
      if (!isPartial || destination.access !== 'write') return [];
      if (look.device.get(look.askedAt(destination.deviceId))!.functionCodes.includes(MASK_WRITE)) return [];
      return {
        message: `${route.name}: ${destination.name} is part of a register that may only be written, so what its other bits hold cannot be kept.`,
        mend: 'Route all its bits, or allow reading in the point’s access.',
        at: onRoute(row, 'destinationId'),
      };
    }),
});
