import { defineCheck, onLine } from '../../findings/index.js';
import { groundedOf, isLaid } from './cable.js';

export const shieldMany = defineCheck({
  id: 'shield-many',
  severity: 'warning',
  scope: 'serial',
  meaning: 'The shield of a cable is grounded at more than one place.',
  find: (bus) => {
    const grounded = groundedOf(bus);
    if (!isLaid(bus) || bus.line.cable.shieldOhmPerKm === null || grounded.length < 2) return [];
    return [
      {
        message: `The shield of ${bus.line.name} is grounded at ${grounded.length} places: ${grounded.map(({ name }) => name).join(', ')}.`,
        mend: 'Ground it at one end only.',
        at: onLine(bus),
      },
    ];
  },
});
