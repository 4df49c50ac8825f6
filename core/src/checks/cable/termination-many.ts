import { defineCheck, onLine } from '../../findings/index.js';
import { bothEnds, isTerminatedBus, terminatedOf } from './cable.js';

export const terminationMany = defineCheck({
  id: 'termination-many',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A bus is terminated more than twice, which loads its drivers.',
  find: (bus) => {
    const { length } = terminatedOf(bus);
    if (!isTerminatedBus(bus) || length <= 2) return [];
    return [
      {
        message: `${bus.line.name} is terminated ${length} times, which loads its drivers with ${Math.round(120 / length)} Ω instead of 60 Ω.`,
        mend: `Leave it ${bothEnds(bus)}, and take all others out.`,
        at: onLine(bus),
      },
    ];
  },
});
