import type { ByRegisters } from '../feed/index.js';
import type { Identification } from '../identity/index.js';
import { isModbusLine, type Line, type Port } from '../media/index.js';
import { ipNumber } from '../network/index.js';
import type { FoundPlace, Swept } from './observed.js';

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

/** What was found, with what its registers tell where they were looked at. */
type Found = FoundPlace & { registers?: ByRegisters | null };

/** By which a place is known, in a sweep and in the design. */
interface Place {
  key: string;
  place: string;
  order: number;
}
type Designed = Place & { names: string[] };

/**
 * Matches what was found with what is designed: there, unexpected, answering differently; and, once the sweep is through,
 * missing. Only places that the sweep has looked at are missed; `swept` is null while it is not through.
 */
export function matchFound(
  line: Line,
  ports: readonly Port[],
  nameOf: (port: Port) => string,
  found: readonly Found[],
  swept: Swept | null,
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
    const at = placeFound(event);
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
      registers: event.registers ?? null,
      found: expected ? null : event.kind === 'unit' ? { unitId: event.unit } : { ip: event.ip, tcpPort: event.port },
    };
  });
  const seen = new Set(found.map((event) => placeFound(event).key));
  const missing = swept
    ? [...designed.values()]
        .filter(({ key, order }) => !seen.has(key) && isWithin(swept, order))
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

/** Whether it can be asked who is on a line. */
export function canBeSwept(line: Line): boolean {
  return isModbusLine(line) || line.kind === 'ethernet';
}

/** Whether a sweep asks there. */
function isWithin(swept: Swept, order: number): boolean {
  if (swept.kind === 'units') return order >= swept.first && order <= swept.last;
  const [ip, port] = [Math.floor(order / TCP_PORTS), order % TCP_PORTS];
  return swept.ports.includes(port) && ip >= (ipNumber(swept.first) ?? 0) && ip <= (ipNumber(swept.last) ?? 0);
}

function placeFound(found: Found): Place {
  return found.kind === 'unit' ? unitPlace(found.unit) : hostPlace(found.ip, found.port);
}

function placeOf(port: Port): Place | null {
  if (port.kind === 'ethernet') return port.role === 'asks' ? null : hostPlace(port.ip, port.tcpPort);
  return port.kind === 'serial' && port.unitId !== null ? unitPlace(port.unitId) : null;
}

function unitPlace(unit: number): Place {
  return { key: `unit ${unit}`, place: `unit ${unit}`, order: unit };
}

function hostPlace(ip: string, port: number): Place {
  return { key: `${ip}:${port}`, place: `${ip} port ${port}`, order: (ipNumber(ip) ?? 0) * TCP_PORTS + port };
}

const TCP_PORTS = 65_536;
