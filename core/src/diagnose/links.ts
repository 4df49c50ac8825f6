import { linkOn } from '../converter/index.js';
import type { LinkPortState } from '../cyclic-line/index.js';
import { fromHex } from '../frame/index.js';
import { type CyclicPort, lampOf } from '../media/index.js';
import type { ProjectDocument } from '../model/index.js';
import type { Place } from './case.js';
import type { Diagnosis } from './diagnose.js';

/** An end of a link with how it stands; without where its device is not there. */
interface End {
  port: CyclicPort;
  name: string;
  now: LinkPortState | undefined;
}
type Why = { cause: string; sentence: string; evidence: string; at: Place };

/** From this share of updates on that stay away it is told. */
const MANY = 0.05;
/** Before so many it is chance. */
const ENOUGH = 40;

/** The same of stations on cyclic links, by how both ends stand: `stateOf` gives that by the id of a port, where it is known. */
export function diagnoseLinks(document: ProjectDocument, stateOf: (portId: string) => LinkPortState | undefined): Diagnosis[] {
  const { lines, ports, devices } = document;
  return lines.flatMap((line): Diagnosis[] => {
    const link = linkOn(document, line.id);
    const ends = ports.flatMap((port): End[] => {
      if (port.kind !== 'cyclic' || port.lineId !== line.id) return [];
      return [{ port, name: devices.find(({ id }) => id === port.deviceId)?.name ?? '', now: stateOf(port.id) }];
    });
    const [opener, station] = (['opens', 'answers'] as const).map((role) => ends.find(({ port }) => port.role === role));
    if (!link || !opener || !station || (!opener.now && !station.now)) return [];
    const why = whyOf(link.line, opener, station);
    if (!why) return [];
    const lamps = [opener, station].flatMap(({ port, name, now }) => {
      const shows = now ? lampOf(port, now.state) : '';
      return shows ? [`${name}: ${shows}`] : [];
    });
    const seen = opener.now ? `${opener.now.heard} blocks of it came, ${opener.now.missed} stayed away.` : `${opener.name} is not there.`;
    const evidence = [why.evidence, lamps.length ? `Its lamps show: ${lamps.join('; ')}.` : ''].filter(Boolean).join(' ');
    return [
      {
        ...{ deviceId: link.stationId, name: link.stationName, seen, test: null },
        causes: [{ ...why, evidence, more: [], against: [], likelihood: 1 }],
      },
    ];
  });
}

function whyOf(line: NonNullable<ReturnType<typeof linkOn>>['line'], opener: End, station: End): Why | null {
  const atPort = ({ port }: End): Place => ({ entity: 'port', id: port.id });
  const atLine: Place = { entity: 'line', id: line.id };
  const [open, own] = [opener.now, station.now];
  if (open?.state === 'refused') {
    const wrong = [opener, station].find(({ port }) => port.inputBytes !== line.inputBytes || port.outputBytes !== line.outputBytes);
    return {
      cause: 'sizes-differ',
      sentence: `${station.name} refuses ${line.name}: ${open.problem ?? 'it has other sizes.'}`,
      evidence: 'The station says so itself.',
      at: atPort(wrong ?? station),
    };
  }
  if (!own || open?.state === 'opening')
    return {
      cause: 'station-silent',
      sentence: `${station.name} does not answer when ${opener.name} opens ${line.name}: it is off, not connected, or not a station there.`,
      evidence: own ? 'It is there, and sends nothing.' : 'Nothing of it is there.',
      at: atPort(station),
    };
  if (!open)
    return {
      cause: 'nobody-opens',
      sentence: `Nobody opens ${line.name}: ${opener.name} is off or not connected.`,
      evidence: `${station.name} waits for it.`,
      at: atPort(opener),
    };
  if (open.state === 'lost')
    return {
      cause: 'link-lost',
      sentence: `Blocks of ${station.name} came and come no more: it was switched off, or something between it and ${opener.name} is cut.`,
      evidence: open.problem ?? '',
      at: atPort(station),
    };
  if (own.state === 'not valid' || open.state === 'not valid') {
    const [name, byte, value, hex] =
      own.state === 'not valid'
        ? (['output', line.outputValidByte, line.outputValidValue, own.output] as const)
        : (['input', line.inputValidByte, line.inputValidValue, open.input] as const);
    const bytes = fromHex(hex);
    const is = bytes.ok && byte !== null ? bytes.value[byte] : undefined;
    return {
      cause: 'not-valid',
      sentence: `The ${name} of ${station.name} is not used: its byte ${byte} is ${is ?? 'not there'}, and has to be ${value} to say that it is valid.`,
      evidence: 'Blocks come and go, so the link itself is well.',
      at: atLine,
    };
  }
  if (open.problem ?? own.problem)
    return {
      cause: 'does-not-fit',
      sentence: `A value of ${line.name} does not fit: ${open.problem ?? own.problem}`,
      evidence: 'Its block goes on with what it said last.',
      at: atLine,
    };
  if (open.heard + open.missed >= ENOUGH && open.missed / (open.heard + open.missed) >= MANY)
    return {
      cause: 'updates-missed',
      sentence: `${open.missed} of ${open.heard + open.missed} updates of ${station.name} stayed away: the network between is overloaded or poor, or the interval of ${line.intervalMs} ms is too short for one of its ends.`,
      evidence: 'The numbers of its blocks leave some out.',
      at: atLine,
    };
  return null;
}
