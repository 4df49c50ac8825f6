import * as z from 'zod';
import { socketFramings } from '../frame/index.js';
import { formatNetwork, hostsOf, ipNumber, ipText, maskBits, maskText, parseNetwork } from '../network/index.js';
import { defineMedium } from './definition.js';
import { ofLine, ofPort, Role, roleNames } from './fields.js';

/** The port of the standard (Messaging on TCP/IP V1.0b, 4.3.1). */
export const STANDARD_PORT = 502;

const Ip = z.ipv4('An IPv4 address is written like 10.40.8.10.');

const EthernetLine = z.strictObject({
  ...ofLine,
  kind: z.literal('ethernet'),
  network: z.cidrv4('An IPv4 network is written like 10.40.8.0/24.'),
});
export type EthernetLine = z.infer<typeof EthernetLine>;

const EthernetPort = z.strictObject({
  ...ofPort,
  kind: z.literal('ethernet'),
  ip: Ip,
  mask: z.ipv4('A mask is written like 255.255.255.0.'),
  gateway: Ip.nullable().describe('The way out of its network; null for none'),
  leased: z.boolean().describe('Its address comes from a lease instead of being fixed'),
  role: Role,
  framing: z.enum(socketFramings).describe('Modbus TCP, or RTU frames carried over TCP'),
  tcpPort: z.int('A whole number.').min(1, 'TCP ports start at 1.').max(65_535, 'TCP ports end at 65535.'),
  unitId: z
    .int('A whole number.')
    .min(0, 'Unit IDs start at 0.')
    .max(255, 'Unit IDs end at 255.')
    .describe('255 where the device is reached directly'),
  connections: z
    .int('A whole number.')
    .min(1, 'At least one connection.')
    .max(64, 'At most 64.')
    .describe('How many clients it serves at a time'),
  otherClients: z
    .int('A whole number.')
    .min(0, 'Not less than none.')
    .max(64, 'At most 64.')
    .describe('Clients that connect to it besides Plain Envoy'),
  openTransactions: z
    .int('A whole number.')
    .min(1, 'At least one.')
    .max(16, 'The standard allows 1 to 16.')
    .default(1)
    .describe('Questions that it takes at a time over one connection; over RTU it is always one'),
  standInAddress: z
    .ipv4('An IPv4 address is written like 127.40.8.10.')
    .refine((ip) => ip.startsWith('127.'), 'A stand-in listens on a loopback address, which starts with 127.')
    .refine((ip) => !ip.startsWith('127.0.'), 'Other programs of this machine listen on 127.0.x.x; a stand-in has an address of its own.')
    .nullable(),
});
export type EthernetPort = z.infer<typeof EthernetPort>;

/** How many clients connect to a port: the carriers of the plan, by the id of the device, and the others that the port names. */
export function connectionsUsed({ otherClients }: Pick<EthernetPort, 'otherClients'>, carriers: number): number {
  return otherClients + carriers;
}

export const ethernet = defineMedium<typeof EthernetLine, typeof EthernetPort>({
  label: 'Ethernet',
  line: EthernetLine,
  port: EthernetPort,
  carriesModbus: () => true,
  blankLine: (ids) => ({ ...ids, kind: 'ethernet', network: '10.40.9.0/24' }),
  blankPort: (line, here, ids) => ({
    ...ids,
    kind: 'ethernet',
    ip: freeAddress(line.network, here),
    mask: maskOf(line),
    ...{ gateway: null, leased: false, role: 'answers', framing: 'tcp', tcpPort: STANDARD_PORT, unitId: 255 },
    ...{ connections: 4, otherClients: 0, openTransactions: 1, standInAddress: null },
  }),
  whyFull: () => null,
  ofPlace: ['ip', 'standInAddress'],
  expected: (line) => ({ mask: maskOf(line) }),
  takenFrom: ({ network }, { mask }) => {
    const [address, bits] = network.split('/');
    return { network: `${address}/${maskBits(mask) ?? bits}` };
  },
  columns: [
    { key: 'ip', head: 'Address' },
    { key: 'mask', head: 'Mask' },
    { key: 'gateway', head: 'Gateway' },
    { key: 'tcpPort', head: 'TCP port' },
    { key: 'unitId', head: 'Unit ID' },
    { key: 'leased', head: 'Address is', text: ({ leased }) => (leased ? 'leased' : 'fixed') },
    { key: 'role', head: 'Role', text: ({ role }) => roleNames[role] },
    { key: 'connections', head: 'Clients', text: (port, clients) => `${connectionsUsed(port, clients)} of ${port.connections}` },
  ],
  lineCell: ({ network }, key) => (key === 'ip' ? network : null),
  describeLine: ({ network }) => `Ethernet ${network}`,
  describePort: ({ ip }) => ip,
  describeSettings: ({ ip, mask, tcpPort }) => `${ip} ${mask} port ${tcpPort}`,
});

function maskOf({ network }: EthernetLine): string {
  return maskText(Number(network.split('/')[1]));
}

/** The first address after the highest that is taken in a network, or the first free one. */
function freeAddress(text: string, ports: readonly EthernetPort[]): string {
  const network = parseNetwork(text);
  if (!network.ok) return '10.40.9.1';
  const { first, last } = hostsOf(network.value);
  const taken = new Set(ports.map(({ ip }) => ipNumber(ip)));
  const inside = [...taken].filter((ip): ip is number => ip !== null && ip >= first && ip <= last);
  const next = Math.max(first - 1, ...inside) + 1;
  if (next <= last) return ipText(next);
  for (let ip = first; ip <= last; ip++) if (!taken.has(ip)) return ipText(ip);
  return formatNetwork(network.value).split('/')[0]!;
}
