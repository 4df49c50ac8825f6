import { defineCheck, onPort } from '../../findings/index.js';
import { LONGEST_STUB_M } from '../../line/index.js';
import { isLaid } from './cable.js';

export const stubLength = defineCheck({
  id: 'stub-length',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A device hangs on a stub that is too long for a bus.',
  find: (bus) =>
    (isLaid(bus) ? bus.members : [])
      .filter(({ port }) => port.stubM > LONGEST_STUB_M)
      .map((member) => ({
        message: `${member.name} hangs on a stub of ${member.port.stubM} m; a derivation from the trunk is at most ${LONGEST_STUB_M} m.`,
        mend: 'Lead the trunk past the device, from terminal to terminal.',
        at: onPort(member, 'stubM'),
      })),
});
