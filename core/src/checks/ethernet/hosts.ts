import { type Check, defineCheck, type Finding, onPort } from '../../findings/index.js';
import { checkHosts, type HostCheck } from '../../network/index.js';

/** A finding about the addresses of the hosts on one network, as the check of hosts words it. */
export function hostCheck<const Id extends HostCheck>(id: Id, severity: Finding['severity'], meaning: string): Check<'ethernet', Id> {
  return defineCheck({
    id,
    severity,
    scope: 'ethernet',
    meaning,
    find: ({ members }) => {
      const byName = new Map(members.map((member) => [member.name, member]));
      const hosts = members.map(({ name, port: { ip, mask, gateway } }) => ({ name, ip, mask, gateway }));
      return checkHosts(hosts)
        .filter(({ check }) => check === id)
        .map(({ host, field, message, mend }) => ({ message, mend, at: onPort(byName.get(host)!, field) }));
    },
  });
}
