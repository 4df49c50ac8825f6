import { defineCheck, fixOf, onPort } from '../../findings/index.js';

/** The port of the standard (Messaging on TCP/IP V1.0b, 4.3.1). */
const STANDARD_PORT = 502;

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
