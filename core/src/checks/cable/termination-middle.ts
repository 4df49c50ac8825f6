import { defineCheck, onPort } from '../../findings/index.js';
import { bothEnds, endsOf, isTerminatedBus, terminatedOf } from './cable.js';

export const terminationMiddle = defineCheck({
  id: 'termination-middle',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A device in the middle of a bus is terminated.',
  find: (bus) => {
    if (!isTerminatedBus(bus)) return [];
    const { first, last } = endsOf(bus);
    return terminatedOf(bus)
      .filter(({ port }) => port.atM !== first.port.atM && port.atM !== last.port.atM)
      .map((member) => ({
        message: `${member.name} is terminated but stands in the middle of ${bus.line.name}.`,
        mend: `Terminate ${bothEnds(bus)}.`,
        at: onPort(member, 'terminated'),
      }));
  },
});
