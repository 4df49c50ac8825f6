import { defineCheck, fixOf, onPort } from '../../findings/index.js';
import { STANDARD_PORT } from '../../media/index.js';

export const portUnusual = defineCheck({
  id: 'port-unusual',
  severity: 'advice',
  scope: 'ethernet',
  meaning: 'A device is asked on another TCP port than that of the standard.',
  find: (bus) =>
    bus.members
      .filter(({ port }) => port.role !== 'asks' && port.framing === 'tcp' && port.tcpPort !== STANDARD_PORT)
      .map((member) => ({
        message: `${member.name} is asked on TCP port ${member.port.tcpPort}. Modbus TCP is on port ${STANDARD_PORT}, unless the papers of the device say otherwise.`,
        mend: 'Look the port up in the papers or at the device.',
        fix: fixOf(`Set port ${STANDARD_PORT}`, 'port', member.port, { tcpPort: STANDARD_PORT }),
        at: onPort(member, 'tcpPort'),
      })),
});
