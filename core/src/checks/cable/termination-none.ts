import { defineCheck, onLine } from '../../findings/index.js';
import { bothEnds, isTerminatedBus, terminatedOf } from './cable.js';

export const terminationNone = defineCheck({
  id: 'termination-none',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A bus is not terminated at all, so that its ends reflect every edge.',
  find: (bus) =>
    isTerminatedBus(bus) && terminatedOf(bus).length === 0
      ? [
          {
            message: `${bus.line.name} is not terminated: its ends reflect every edge.`,
            mend: `Put 120 Ω ${bothEnds(bus)}.`,
            at: onLine(bus),
          },
        ]
      : [],
});
