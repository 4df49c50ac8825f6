import { defineCheck, type Member, onPort } from '../../findings/index.js';
import { answering, isOfDevice } from './units.js';

export const unitTwice = defineCheck({
  id: 'unit-twice',
  severity: 'stop',
  scope: 'serial',
  meaning: 'Two devices on one serial line have the same unit ID, so that both answer at once.',
  find: (bus) => {
    const seen = new Map<number, Member>();
    return answering(bus).flatMap(({ member, unitId }) => {
      const other = seen.get(unitId);
      if (!isOfDevice(unitId)) return [];
      if (!other) {
        seen.set(unitId, member);
        return [];
      }
      return {
        message: `${other.name} and ${member.name} both have unit ID ${unitId} on ${bus.line.name}: both answer at once and damage each other’s frames.`,
        mend: `Set another unit ID on one of them${free(bus.members)}.`,
        at: onPort(member, 'unitId'),
      };
    });
  },
});

function free(members: readonly Member[]): string {
  const used = new Set(members.map(({ port }) => port.unitId));
  for (let unit = 1; unit <= 247; unit++) if (!used.has(unit)) return `; ${unit} is free`;
  return '';
}
