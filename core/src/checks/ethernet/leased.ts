import { defineCheck, onPort } from '../../findings/index.js';

export const leased = defineCheck({
  id: 'leased',
  severity: 'warning',
  scope: 'ethernet',
  meaning: 'A device gets its address by lease, so that it may have another one after a restart.',
  find: ({ members }) =>
    members
      .filter(({ port }) => port.leased)
      .map((member) => ({
        message: `${member.name} gets its address by lease: after a restart it may have another one than ${member.port.ip}.`,
        mend: 'Set a fixed address on the device.',
        at: onPort(member, 'leased'),
      })),
});
