import ipaddr from 'ipaddr.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** An IPv4 address as one number, 0 to 2³² − 1; null where the text is none (RFC 791). */
export function ipNumber(text: string): number | null {
  const address = parsed(text);
  return address && address.octets.reduce((sum, octet) => sum * 256 + octet, 0);
}

function parsed(text: string): ipaddr.IPv4 | null {
  const typed = text.trim();
  return ipaddr.IPv4.isValidFourPartDecimal(typed) ? ipaddr.IPv4.parse(typed) : null;
}

export function ipText(number: number): string {
  return [24, 16, 8, 0].map((shift) => (number >>> shift) & 255).join('.');
}

/** A network: its first address and how many leading bits belong to it (RFC 4632). */
export interface Network {
  address: number;
  bits: number;
}

/** How many bits a mask such as 255.255.255.0 (or /24, or 24) sets from the left; null where it is no mask. */
export function maskBits(text: string): number | null {
  const short = /^\/?(\d{1,2})$/.exec(text.trim());
  if (short) return Number(short[1]) <= 32 ? Number(short[1]) : null;
  return parsed(text)?.prefixLengthFromSubnetMask() ?? null;
}

export function maskText(bits: number): string {
  return ipaddr.IPv4.subnetMaskFromPrefixLength(bits).toString();
}

function maskOf(bits: number): number {
  return bits === 0 ? 0 : (0xffff_ffff << (32 - bits)) >>> 0;
}

export function networkOf(ip: number, bits: number): Network {
  return { address: (ip & maskOf(bits)) >>> 0, bits };
}

/** `10.40.8.0/24`. The address part may be any in the network. */
export function parseNetwork(text: string): Outcome<Network> {
  const [address = '', bits = ''] = text.split('/');
  const ip = ipNumber(address);
  const known = /^\d{1,2}$/.test(bits) ? maskBits(bits) : null;
  if (ip === null || known === null) return bad(`“${text}” is no IPv4 network; one is written like 10.40.8.0/24.`);
  return good(networkOf(ip, known));
}

export function formatNetwork({ address, bits }: Network): string {
  return `${ipText(address)}/${bits}`;
}

export function contains(network: Network, ip: number): boolean {
  return networkOf(ip, network.bits).address === network.address;
}

export function broadcastOf({ address, bits }: Network): number {
  return address + 2 ** (32 - bits) - 1;
}

/** The first and last address that a host may have, and how many: /31 has two, /32 one (RFC 3021), all others lose two. */
export function hostsOf(network: Network): { first: number; last: number; hosts: number } {
  const last = broadcastOf(network);
  if (network.bits >= 31) return { first: network.address, last, hosts: last - network.address + 1 };
  return { first: network.address + 1, last: last - 1, hosts: last - network.address - 1 };
}

/** What an address is that no host of this network can have; null for an ordinary one (RFC 1122, 3.2.1.3). */
export function specialAddress(network: Network, ip: number): 'network' | 'broadcast' | null {
  if (network.bits >= 31) return null;
  if (ip === network.address) return 'network';
  return ip === broadcastOf(network) ? 'broadcast' : null;
}

const RESERVED: Record<string, string> = {
  loopback: 'what a machine sends to itself',
  multicast: 'groups of listeners',
  linkLocal: 'hosts that found no address server',
  unspecified: 'a host that has no address yet',
  reserved: 'no use that is agreed on',
};

/** What an address is kept for, so that no host can have it for its own; null for an ordinary one (RFC 6890). */
export function reservedFor(ip: number): string | null {
  return RESERVED[ipaddr.IPv4.parse(ipText(ip)).range()] ?? null;
}

/** The stand-in of 10.40.8.10 listens at 127.40.8.10. */
export function standInAddressOf(ip: string): string {
  return ip.replace(/^\d+/, '127');
}
