import * as z from 'zod';
import {
  checkHosts,
  formatNetwork,
  hostsOf,
  ipNumber,
  ipText,
  maskText,
  type Network,
  networkOfHost,
  withoutGateway,
} from '../network/index.js';
import { severityOf } from '../checks/index.js';
import { reckoner } from './reckoner.js';
import { good } from '../outcome/index.js';

const Host = z.strictObject({
  name: z.string().min(1, 'A name is needed.').max(80),
  ip: z.string().max(40).describe('Like 10.40.8.10'),
  mask: z.string().max(40).describe('Like 255.255.255.0 or /24'),
  gateway: z.string().max(40).optional(),
});

export const subnet = reckoner({
  name: 'subnet',
  sentence: 'In which networks these hosts are, which addresses those have, and what is wrong with the settings.',
  example: {
    hosts: [
      { name: 'Controller', ip: '10.40.8.10', mask: '255.255.255.0' },
      { name: 'Drive', ip: '10.40.9.21', mask: '255.255.255.0' },
    ],
  },
  input: z.strictObject({ hosts: z.array(Host).min(1, 'At least one host.').max(2000) }),
  output: z.object({
    networks: z.array(
      z.object({
        cidr: z.string(),
        first: z.string(),
        last: z.string(),
        hosts: z.int().describe('Addresses that a host may have'),
        members: z.array(z.string()),
        mask: z.string(),
        nextFree: z.string().nullable().describe('The lowest address that none of these hosts has'),
      }),
    ),
    findings: z.array(z.object({ severity: z.enum(['stop', 'warning', 'advice']), host: z.string(), message: z.string() })),
  }),
  reckon({ hosts }) {
    const networks = new Map<string, { network: Network; members: string[] }>();
    for (const host of hosts) {
      const network = networkOfHost(host);
      if (!network) continue;
      const cidr = formatNetwork(network);
      const known = networks.get(cidr) ?? { network, members: [] };
      known.members.push(host.name);
      networks.set(cidr, known);
    }
    const taken = new Set(hosts.map(({ ip }) => ipNumber(ip)));
    return good({
      networks: [...networks].map(([cidr, { network, members }]) => {
        const { first, last, hosts: count } = hostsOf(network);
        return {
          cidr,
          first: ipText(first),
          last: ipText(last),
          hosts: count,
          members,
          mask: maskText(network.bits),
          nextFree: nextFree(first, last, taken),
        };
      }),
      findings: [
        ...checkHosts(hosts).map(({ check, host, message }) => ({ severity: severityOf(check), host, message })),
        ...withoutGateway(hosts).map((found) => ({ severity: 'warning' as const, ...found })),
      ],
    });
  },
});

function nextFree(first: number, last: number, taken: ReadonlySet<number | null>): string | null {
  for (let ip = first; ip <= last; ip++) if (!taken.has(ip)) return ipText(ip);
  return null;
}
