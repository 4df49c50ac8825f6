import { defineCheck, fixOf, onPort, type SerialBus } from '../../findings/index.js';
import { answering, isOfDevice } from './units.js';

export const unitRange = defineCheck({
  id: 'unit-range',
  severity: 'stop',
  scope: 'serial',
  meaning: 'A unit ID on a serial line is none of 1 to 247.',
  find: (bus) =>
    answering(bus)
      .filter(({ unitId }) => !isOfDevice(unitId))
      .map(({ member, unitId }) => ({
        message: `${member.name} has unit ID ${unitId}. Unit IDs on a serial line are 1 to 247; ${unitId === 0 ? '0 is broadcast, which nobody answers' : '248 to 255 are reserved by the standard'}.`,
        mend: 'Set a free unit ID from 1 to 247, in the device too.',
        fix: freeOn(bus) === null ? undefined : fixOf(`Set unit ID ${freeOn(bus)}`, 'port', member.port, { unitId: freeOn(bus) }),
        at: onPort(member, 'unitId'),
      })),
});

/** The lowest unit ID that nobody on the line has; null where all are taken. */
function freeOn(bus: SerialBus): number | null {
  const taken = new Set(answering(bus).map(({ unitId }) => unitId));
  return Array.from({ length: 247 }, (_, index) => index + 1).find((unitId) => !taken.has(unitId)) ?? null;
}
