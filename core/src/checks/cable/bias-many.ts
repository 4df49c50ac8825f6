import { defineCheck, onLine } from '../../findings/index.js';
import { isTerminatedBus } from './cable.js';

export const biasMany = defineCheck({
  id: 'bias-many',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A bus is biased at more than one place, which loads its drivers.',
  find: (bus) => {
    const biased = bus.members.filter(({ port }) => port.bias);
    if (!isTerminatedBus(bus) || biased.length < 2) return [];
    return [
      {
        message: `${bus.line.name} is biased at ${biased.length} places (${biased.map(({ name }) => name).join(', ')}), which loads its drivers.`,
        mend: 'Bias it at one place, best at the one that asks.',
        at: onLine(bus),
      },
    ];
  },
});
