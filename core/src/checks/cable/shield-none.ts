import { defineCheck, onLine } from '../../findings/index.js';
import { groundedOf, isLaid } from './cable.js';

export const shieldNone = defineCheck({
  id: 'shield-none',
  severity: 'advice',
  scope: 'serial',
  meaning: 'The shield of a cable is grounded nowhere.',
  find: (bus) =>
    isLaid(bus) && bus.line.cable.shieldOhmPerKm !== null && groundedOf(bus).length === 0
      ? [
          {
            message: `The shield of ${bus.line.name} is grounded nowhere, so it shields little.`,
            mend: 'Ground it at one end only.',
            at: onLine(bus),
          },
        ]
      : [],
});
