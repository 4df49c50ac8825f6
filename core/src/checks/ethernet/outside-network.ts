import { defineCheck, onPort } from '../../findings/index.js';
import { contains, ipNumber, parseNetwork } from '../../network/index.js';

export const outsideNetwork = defineCheck({
  id: 'outside-network',
  severity: 'stop',
  scope: 'ethernet',
  meaning: 'A host has an address outside the network that it is on.',
  find: ({ line, members }) => {
    const network = parseNetwork(line.network);
    if (!network.ok) return [];
    return members
      .filter(({ port }) => {
        const ip = ipNumber(port.ip);
        return ip !== null && !contains(network.value, ip);
      })
      .map((member) => ({
        message: `${member.name} has ${member.port.ip}, which lies outside ${line.name} (${line.network}), so the others do not find it.`,
        mend: `Give it an address in ${line.network}.`,
        at: onPort(member, 'ip'),
      }));
  },
});
