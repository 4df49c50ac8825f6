import type { ByRegisters, ProveEvent } from '@plain-envoy/core/feed';
import type { Identification } from '@plain-envoy/core/identity';
import { ipNumber } from '@plain-envoy/core/network';
import { type Line, type Port } from '@plain-envoy/core/media';

/** One place of a line, as designed and as found. */
export interface Match {
  place: string;
  state: 'there' | 'missing' | 'unexpected' | 'differs';
  device: string;
  sentence: string;
  identity: string | null;
  identification: Identification | null;
  /** What its registers tell; null where they were not looked at. */
  registers: ByRegisters | null;
  /** What an unexpected one needs to become a device. */
  found: { unitId: number } | { ip: string; tcpPort: number } | null;
}

type Found = Extract<ProveEvent, { kind: 'unit' | 'host' }>;

interface Designed {
  key: string;
  place: string;
  order: number;
  names: string[];
}

/**
 * Matches what was found with what is designed: there, unexpected, answering differently; and, once the sweep is through,
 * missing. Only places that the sweep has looked at are missed.
 */
export function matchFound(
  line: Line,
  ports: readonly Port[],
  nameOf: (port: Port) => string,
  found: readonly Found[],
  swept: ((key: string) => boolean) | null,
): Match[] {
  const designed = new Map<string, Designed>();
  for (const port of ports) {
    const place = placeOf(port);
    if (!place) continue;
    const known = designed.get(place.key) ?? { ...place, names: [] };
    known.names.push(nameOf(port));
    designed.set(place.key, known);
  }
  const rows = found.map((event): Match & { order: number } => {
    const at = event.kind === 'unit' ? unitPlace(event.unit) : hostPlace(event.ip, event.port);
    const expected = designed.get(at.key);
    const sound = event.state === 'answers' || event.state === 'gateway';
    const state = !expected ? 'unexpected' : sound && expected.names.length === 1 ? 'there' : 'differs';
    return {
      order: at.order,
      place: at.place,
      state,
      device: expected?.names.join(' and ') ?? '',
      sentence:
        expected && expected.names.length > 1 ? `${event.sentence} ${expected.names.length} devices are designed here.` : event.sentence,
      identity: event.identity,
      identification: event.identification,
      registers: event.registers,
      found: expected ? null : event.kind === 'unit' ? { unitId: event.unit } : { ip: event.ip, tcpPort: event.port },
    };
  });
  const seen = new Set(found.map((event) => (event.kind === 'unit' ? unitPlace(event.unit) : hostPlace(event.ip, event.port)).key));
  const missing = swept
    ? [...designed.values()]
        .filter(({ key }) => !seen.has(key) && swept(key))
        .map(({ place, order, names }): Match & { order: number } => ({
          ...{
            order,
            place,
            state: 'missing',
            device: names.join(' and '),
            identity: null,
            identification: null,
            registers: null,
            found: null,
          },
          sentence: `Nothing answers here on ${line.name}.`,
        }))
    : [];
  return [...rows, ...missing].sort((a, b) => a.order - b.order);
}

/** By which a place is known, in a sweep and in the design. */
export function unitPlace(unit: number): Omit<Designed, 'names'> {
  return { key: `unit ${unit}`, place: `unit ${unit}`, order: unit };
}

export function hostPlace(ip: string, port: number): Omit<Designed, 'names'> {
  const order = (ipNumber(ip) ?? 0) * 65_536 + port;
  return { key: `${ip}:${port}`, place: `${ip} port ${port}`, order };
}

function placeOf(port: Port): Omit<Designed, 'names'> | null {
  if (port.kind === 'ethernet') return port.role === 'asks' ? null : hostPlace(port.ip, port.tcpPort);
  return port.kind === 'serial' && port.unitId !== null ? unitPlace(port.unitId) : null;
}
