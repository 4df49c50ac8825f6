import { checkHosts, contains, ipNumber, parseNetwork } from '../network/index.js';
import type { EthernetPort } from '../model/index.js';
import type { EthernetBus } from './bus.js';
import type { Finding } from './finding.js';

/** Checks of addresses, roles and connections on one network. `dialled` are the devices that Plain Envoy connects to. */
export function checkEthernet(bus: EthernetBus, dialled: ReadonlySet<string>): Finding[] {
  return [...addresses(bus), ...leases(bus), ...connections(bus, dialled), ...roles(bus)];
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

/** How many clients connect to a port: the others, and Plain Envoy where it dials this device. */
export function connectionsUsed(port: EthernetPort, dialled: ReadonlySet<string>): number {
  return port.otherClients + (dialled.has(port.deviceId) ? 1 : 0);
}

function connections({ members }: EthernetBus, dialled: ReadonlySet<string>): Finding[] {
  return members.flatMap(({ name, port }): Finding[] => {
    const used = connectionsUsed(port, dialled);
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
