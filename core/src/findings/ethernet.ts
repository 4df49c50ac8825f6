import { checkHosts, contains, ipNumber, parseNetwork } from '../network/index.js';
import type { EthernetPort } from '../model/index.js';
import type { EthernetBus } from './bus.js';
import type { Finding } from './finding.js';

/** Checks of addresses, roles and connections on one network. `clients` says for a device how many carriers of the plan connect to it. */
export function checkEthernet(bus: EthernetBus, clients: Clients): Finding[] {
  return [...addresses(bus), ...leases(bus), ...connections(bus, clients), ...roles(bus)];
}

function addresses({ line, members }: EthernetBus): Finding[] {
  const byName = new Map(members.map(({ name, port }) => [name, port]));
  const found = checkHosts(members.map(({ name, port }) => ({ name, ip: port.ip, mask: port.mask, gateway: port.gateway }))).map(
    ({ severity, check, host, field, message, mend }): Finding => ({
      severity,
      check,
      message,
      mend,
      at: { entity: 'port', id: byName.get(host)!.id, field },
    }),
  );
  const network = parseNetwork(line.network);
  if (!network.ok) return found;
  for (const { name, port } of members) {
    const ip = ipNumber(port.ip);
    if (ip === null || contains(network.value, ip)) continue;
    found.push({
      severity: 'stop',
      check: 'outside-network',
      message: `${name} has ${port.ip}, which lies outside ${line.name} (${line.network}), so the others do not find it.`,
      mend: `Give it an address in ${line.network}.`,
      at: { entity: 'port', id: port.id, field: 'ip' },
    });
  }
  return found;
}

function leases({ members }: EthernetBus): Finding[] {
  return members
    .filter(({ port }) => port.leased)
    .map(({ name, port }) => ({
      severity: 'warning',
      check: 'leased',
      message: `${name} gets its address by lease: after a restart it may have another one than ${port.ip}.`,
      mend: 'Set a fixed address on the device.',
      at: { entity: 'port', id: port.id, field: 'leased' },
    }));
}

/** How many carriers of a plan, Plain Envoy among them, connect to a device, by its id. */
export type Clients = ReadonlyMap<string, number>;

/** How many clients connect to a port: the carriers of the plan, and the others that the port names. */
export function connectionsUsed(port: EthernetPort, clients: Clients): number {
  return port.otherClients + (clients.get(port.deviceId) ?? 0);
}

function connections({ members }: EthernetBus, clients: Clients): Finding[] {
  return members.flatMap(({ name, port }): Finding[] => {
    const used = connectionsUsed(port, clients);
    if (used <= port.connections) return [];
    return [
      {
        severity: 'warning',
        check: 'connections',
        message: `${used} clients connect to ${name}, which serves ${port.connections} at a time: the last to come is turned away.`,
        mend: 'Let one client carry the values of several, or raise the number on the device.',
        at: { entity: 'port', id: port.id, field: 'connections' },
      },
    ];
  });
}

/** Plain Envoy asks on every network by itself, so only a network on which it reaches nobody can be one-sided. */
function roles({ line, members }: EthernetBus): Finding[] {
  if (members.length < 2 || members.some(({ port }) => port.role !== 'asks')) return [];
  return [
    {
      severity: 'stop',
      check: 'only-asking',
      message: `Everyone on ${line.name} asks, and nobody answers.`,
      mend: 'Let at least one device answer as a server.',
      at: { entity: 'line', id: line.id },
    },
  ];
}
