import { defineCheck, onPort } from '../../findings/index.js';
import { connectionsUsed } from '../../media/index.js';

export const connections = defineCheck({
  id: 'connections',
  severity: 'warning',
  scope: 'ethernet',
  meaning: 'More clients connect to a device than it serves at a time.',
  find: ({ members, clients }) =>
    members
      .filter(({ port }) => connectionsUsed(port, clients.get(port.deviceId) ?? 0) > port.connections)
      .map((member) => ({
        message: `${connectionsUsed(member.port, clients.get(member.port.deviceId) ?? 0)} clients connect to ${member.name}, which serves ${member.port.connections} at a time: the last to come is turned away.`,
        mend: 'Let one client carry the values of several, or raise the number on the device.',
        at: onPort(member, 'connections'),
      })),
});
