import { defineCheck, onPort } from '../../findings/index.js';
import { isLaid } from './cable.js';

export const pastTheEnd = defineCheck({
  id: 'past-the-end',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A device is said to be further along the cable than the cable is long.',
  find: (bus) =>
    (isLaid(bus) ? bus.members : [])
      .filter(({ port }) => port.atM > bus.line.lengthM)
      .map((member) => ({
        message: `${member.name} is at ${member.port.atM} m of ${bus.line.name}, which is ${bus.line.lengthM} m long.`,
        mend: 'Correct one of the two lengths.',
        at: onPort(member, 'atM'),
      })),
});
