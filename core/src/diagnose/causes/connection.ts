import { atPort, type Case, duplicateAddressOf, ethernetPortOf, type Place } from '../case.js';
import { defineCause } from '../cause.js';

export const addressTwice = defineCause({
  id: 'address-twice',
  prior: 0.4,
  medium: 'ethernet',
  shows: {
    'address-twice': 0.99,
    'silent-some': 0.3,
    'silent-all': 0.3,
    'other-unit': 0.3,
    unasked: 0.2,
    'no-connection': 0.3,
    'closed-connection': 0.3,
    'refused-connection': 0.3,
  },
  needs: ['address-twice'],
  sentence: (of) =>
    `${of.subject.name} and ${duplicateAddressOf(of)} have the same address, so that now the one answers and now the other.`,
  at: atPort,
  told: ['walk'],
});

export const connections = defineCause({
  id: 'connections',
  prior: 0.3,
  medium: 'ethernet',
  shows: { 'closed-connection': 0.95 },
  needs: ['closed-connection'],
  sentence: (of) => `${of.subject.name} serves ${ethernetPortOf(of)?.connections ?? 'few'} connections at a time and closes further ones.`,
  at: atPort,
  told: ['walk'],
});

export const refused = defineCause({
  id: 'refused',
  prior: 0.3,
  medium: 'ethernet',
  shows: { 'refused-connection': 0.95, 'neighbours-alike': 0.6 },
  needs: ['refused-connection'],
  sentence: ({ subject }) =>
    `${subject.name} is there, and nothing listens on its TCP port: its server is switched off, or the port is another.`,
  at: atPort,
  told: ['walk'],
});

export const unreachable = defineCause({
  id: 'unreachable',
  prior: 0.2,
  medium: 'ethernet',
  shows: { 'no-connection': 0.95, 'closed-connection': 0.2, 'neighbours-alike': 0.6 },
  needs: ['no-connection', 'closed-connection'],
  sentence: ({ subject }) => `${subject.name} cannot be reached: it is off, unplugged, or its address is another.`,
  at: atPort,
  told: ['walk'],
});

export const wayToLine = defineCause({
  id: 'way-to-line',
  prior: 0.4,
  medium: 'line',
  shows: { 'no-connection': 0.95, 'refused-connection': 0.6, 'closed-connection': 0.6, 'neighbours-alike': 0.6 },
  needs: ['no-connection', 'refused-connection', 'closed-connection'],
  sentence: ({ document, port }) =>
    `${document.lines.find(({ id }) => id === port?.lineId)?.name ?? 'Its line'} has no gateway, and the adapter of this machine that leads to it cannot be used: it is unplugged, taken by another program, or none is named.`,
  at: ({ port, device }: Case): Place => (port ? { entity: 'line', id: port.lineId } : { entity: 'device', id: device.id }),
});

export const gatewayUnit = defineCause({
  id: 'gateway-unit',
  prior: 0.4,
  medium: 'any',
  shows: { 'no-path': 0.98 },
  needs: ['no-path'],
  sentence: ({ gateway, device }) => `${gateway?.name ?? 'The gateway'} does not pass the unit ID of ${device.name} on.`,
  at: (of) => (of.gateway ? { entity: 'device', id: of.gateway.id } : atPort(of)),
  told: ['without gateway'],
});
