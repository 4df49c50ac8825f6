import { contains, formatNetwork, ipNumber, ipText, maskBits, type Network, networkOf, reservedFor, specialAddress } from './ipv4.js';

/** A host as it is set: `mask` as dotted text or as a number of bits. */
export interface Host {
  name: string;
  ip: string;
  mask: string;
  gateway?: string | null;
}

export type HostCheck =
  | 'address-malformed'
  | 'address-twice'
  | 'network-address'
  | 'broadcast-address'
  | 'gateway-malformed'
  | 'gateway-outside'
  | 'gateway-unusable'
  | 'address-reserved'
  | 'masks-differ';

/** What is wrong with a host's addresses, and which of its fields says so. */
export interface HostFinding {
  check: HostCheck;
  host: string;
  field: 'ip' | 'mask' | 'gateway';
  message: string;
  mend: string;
}

/** The network that a host's own address and mask put it into; null where either is malformed. */
export function networkOfHost({ ip, mask }: Host): Network | null {
  const [number, bits] = [ipNumber(ip), maskBits(mask)];
  return number === null || bits === null ? null : networkOf(number, bits);
}

/** Checks hosts that share one wire: each by itself, and all against each other (RFC 791, 1122, 4632). */
export function checkHosts(hosts: readonly Host[]): HostFinding[] {
  const findings: HostFinding[] = [];
  const seen = new Map<number, Host>();
  const usual = commonest(hosts.map(({ mask }) => maskBits(mask)).filter((bits) => bits !== null));
  for (const host of hosts) {
    const say = (check: HostFinding['check'], field: HostFinding['field'], message: string, mend: string) =>
      findings.push({ check, host: host.name, field, message, mend });
    const ip = ipNumber(host.ip);
    const bits = maskBits(host.mask);
    if (ip === null) {
      say(
        'address-malformed',
        'ip',
        `“${host.ip}” of ${host.name} is no IPv4 address.`,
        'Write four numbers of 0 to 255, like 10.40.8.10.',
      );
      continue;
    }
    const other = seen.get(ip);
    if (other) {
      const both = `${other.name} and ${host.name} both have ${ipText(ip)}: which of them answers is a matter of luck.`;
      say('address-twice', 'ip', both, 'Give one of them an address of its own.');
    } else seen.set(ip, host);
    if (bits === null) {
      const why = `“${host.mask}” of ${host.name} is no mask: its ones must be together at the left.`;
      say('address-malformed', 'mask', why, 'Write a mask such as 255.255.255.0.');
      continue;
    }
    const network = networkOf(ip, bits);
    const special = specialAddress(network, ip);
    const reserved = reservedFor(ip);
    if (reserved) {
      const why = `${host.name} has ${ipText(ip)}, which is for ${reserved}: no device of a plant can be reached by it.`;
      say('address-reserved', 'ip', why, 'Take an address of the plant’s own network.');
    }
    if (special === 'network') {
      const why = `${host.name} has ${ipText(ip)}, which is the name of the network ${formatNetwork(network)} itself.`;
      say('network-address', 'ip', why, 'Take an address between the first and the last host.');
    }
    if (special === 'broadcast') {
      const why = `${host.name} has ${ipText(ip)}, which is the broadcast address of ${formatNetwork(network)}.`;
      say('broadcast-address', 'ip', why, 'Take an address between the first and the last host.');
    }
    if (host.gateway) {
      const gateway = ipNumber(host.gateway);
      if (gateway === null) {
        const why = `The gateway “${host.gateway}” of ${host.name} is no IPv4 address.`;
        say('gateway-malformed', 'gateway', why, 'Write four numbers of 0 to 255, or leave it empty.');
      } else if (!contains(network, gateway)) {
        const why = `The gateway ${host.gateway} of ${host.name} lies outside its network ${formatNetwork(network)}, so it is never reached.`;
        say('gateway-outside', 'gateway', why, 'Give a gateway of this network, or none.');
      } else {
        const taken = gateway === ip ? 'its own address' : gatewayName(specialAddress(network, gateway), network);
        if (taken) {
          const why = `The gateway ${host.gateway} of ${host.name} is ${taken}, so nothing is passed on.`;
          say('gateway-unusable', 'gateway', why, 'Give the address of the router, or none.');
        }
      }
    }
    if (usual !== null && bits !== usual) {
      const why = `${host.name} has the mask /${bits}, most others here /${usual}: they do not agree on who is near.`;
      say('masks-differ', 'mask', why, `Set its mask to /${usual}.`);
    }
  }
  return findings;
}

/** Hosts of a network that has others beside it, and that name no gateway to reach them by: who, and a sentence. */
export function withoutGateway(hosts: readonly Host[]): { host: string; message: string }[] {
  const networks = hosts.map(networkOfHost);
  const all = new Set(networks.flatMap((network) => (network ? [formatNetwork(network)] : [])));
  if (all.size < 2) return [];
  return hosts.flatMap((host, index) => {
    const network = networks[index];
    if (!network || host.gateway) return [];
    const own = formatNetwork(network);
    const [other] = [...all].filter((cidr) => cidr !== own);
    const message = `${host.name} is in ${own} and names no gateway, so nothing of ${other} is reached from it.`;
    return [{ host: host.name, message }];
  });
}

function gatewayName(special: ReturnType<typeof specialAddress>, network: Network): string | null {
  if (special === null) return null;
  return special === 'network'
    ? `the name of the network ${formatNetwork(network)} itself`
    : `the broadcast address of ${formatNetwork(network)}`;
}

function commonest(numbers: readonly number[]): number | null {
  const counts = new Map<number, number>();
  for (const number of numbers) counts.set(number, (counts.get(number) ?? 0) + 1);
  let best: number | null = null;
  for (const [number, count] of counts) if (best === null || count > counts.get(best)!) best = number;
  return best;
}
