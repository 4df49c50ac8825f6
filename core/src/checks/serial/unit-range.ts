import { defineCheck, onPort } from '../../findings/index.js';
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
        mend: 'Set a free unit ID from 1 to 247.',
        at: onPort(member, 'unitId'),
      })),
});
