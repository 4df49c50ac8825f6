import type { EthernetPort } from '../../media/index.js';
import { atPort, type Case, type Weighed } from '../case.js';

/** No connection was made to it. */
export function notConnected(of: Case): Weighed[] {
  if (!of.tries.unconnected) return [];
  const { device, port, counters, gateway } = of;
  const why = counters.lastError ?? '';
  if (port?.kind === 'serial' && !gateway) return [wayToLine(of, port.lineId)];
  const causes: Weighed[] = [];
  const limit = (port?.kind === 'ethernet' ? port : null) as EthernetPort | null;
  const through = gateway ? gateway.name : device.name;
  const refuses = counters.lastFailure?.code === 'refused-connection';
  if (limit && (counters.lastFailure?.code === 'closed-by-peer' || counters.lastFailure?.code === 'closed-at-once'))
    causes.push({
      weight: 60,
      cause: 'connections',
      sentence: `${device.name} serves ${limit.connections} connections at a time and closes further ones.`,
      evidence: why,
      at: { entity: 'port', id: limit.id },
    });
  causes.push({
    weight: refuses ? 70 : 50,
    cause: refuses ? 'refused' : 'unreachable',
    sentence: refuses
      ? `${through} is there, and nothing listens on its TCP port: its server is switched off, or the port is another.`
      : `${through} cannot be reached: it is off, unplugged, or its address is another.`,
    evidence: why,
    at: atPort(of),
  });
  return causes;
}

/** Nothing can go out on the line itself. */
function wayToLine({ document, counters }: Case, lineId: string): Weighed {
  const line = document.lines.find(({ id }) => id === lineId)?.name ?? 'Its line';
  return {
    weight: 70,
    cause: 'way-to-line',
    sentence: `${line} has no gateway, and the adapter of this machine that leads to it cannot be used: it is unplugged, taken by another program, or none is named.`,
    evidence: counters.lastError ?? '',
    at: { entity: 'line', id: lineId },
  };
}
