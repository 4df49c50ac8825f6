import { hostname, networkInterfaces } from 'node:os';

/** An address that only this machine reaches. */
export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || /^127\.\d+\.\d+\.\d+$/.test(host);
}

const EVERY = ['0.0.0.0', '::'];

/** The names in a Host header by which a server at this address may be meant; `names` are those that a person gave it beside. */
export function hostNames(host: string, names: readonly string[]): Set<string> {
  const local = ['localhost', '127.0.0.1', '[::1]'];
  const given = [host, ...names].map(inHeader);
  if (!EVERY.includes(host)) return new Set([...local, ...given]);
  const own = Object.values(networkInterfaces()).flatMap((addresses) => (addresses ?? []).map(({ address }) => inHeader(address)));
  return new Set([...local, ...given, ...own, hostname().toLowerCase()]);
}

function inHeader(name: string): string {
  return name.includes(':') ? `[${name.toLowerCase()}]` : name.toLowerCase();
}
