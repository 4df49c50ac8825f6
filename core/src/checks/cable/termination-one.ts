import { defineCheck, onLine } from '../../findings/index.js';
import { bothEnds, isTerminatedBus, terminatedOf } from './cable.js';

export const terminationOne = defineCheck({
  id: 'termination-one',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A bus is terminated at one place only.',
  find: (bus) => {
    const [one, ...others] = terminatedOf(bus);
    if (!isTerminatedBus(bus) || !one || others.length > 0) return [];
    return [{ message: `${bus.line.name} is terminated only at ${one.name}.`, mend: `Put 120 Ω ${bothEnds(bus)}.`, at: onLine(bus) }];
  },
});
