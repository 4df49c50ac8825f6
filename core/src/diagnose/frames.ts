import { type CanIdentifier, hexIdentifier, lastIdentifier } from '../can/index.js';
import { type CanErrors, type CanPortState, isFrameOf, periodOf, type StrangeFrame } from '../can-line/index.js';
import { type CarriedFrame, converterOf, framesOn } from '../converter/index.js';
import type { CanPort } from '../media/index.js';
import type { ProjectDocument } from '../model/index.js';
import type { Place } from './case.js';
import type { Diagnosis } from './diagnose.js';

type State = CanPortState & { errors: CanErrors | null };
type Why = { cause: string; sentence: string; evidence: string; at: Place };

/** A station on a bus: how it stands where it is there. */
interface Station {
  port: CanPort;
  name: string;
  now: State | undefined;
}
/** One that sends frames, and the converter that has to hear them. */
interface Pair {
  line: Extract<ProjectDocument['lines'][number], { kind: 'can' }>;
  sender: Station;
  hearer: Station;
  frames: CarriedFrame[];
}

/** An error counter from which on a station is in trouble: what a moment's disturbance leaves is less (ISO 11898-1, error warning). */
const WARNING = 96;
/** So often a frame has stayed away before it is told of one that comes again and again. */
const OFTEN = 3;

/** The same of devices on CAN, by how they and the converter before them stand: `stateOf` gives that by the id of a port, where it is known. */
export function diagnoseFrames(document: ProjectDocument, stateOf: (portId: string) => State | undefined): Diagnosis[] {
  return document.lines.flatMap((line) => {
    if (line.kind !== 'can') return [];
    const stations = document.ports.flatMap((port): Station[] => {
      if (port.kind !== 'can' || port.lineId !== line.id) return [];
      return [{ port, name: document.devices.find(({ id }) => id === port.deviceId)?.name ?? '', now: stateOf(port.id) }];
    });
    const all = framesOn(document, line.id);
    return stations.flatMap((sender): Diagnosis[] => {
      const { deviceId } = sender.port;
      const hearer = stations.find(({ port }) => port.deviceId === converterOf(document, deviceId)?.converter.id);
      const frames = all.filter((frame) => frame.deviceId === deviceId);
      if (!hearer || frames.length === 0 || (!hearer.now && !sender.now)) return [];
      const why = whyOfBus({ line, sender, hearer, frames }, stations) ?? whyOfFrames({ line, sender, hearer, frames }, all);
      if (!why) return [];
      const heard = hearer.now?.frames.filter(({ id, way }) => way === 'heard' && frames.some((frame) => frame.id === id)) ?? [];
      const seen = hearer.now
        ? `${heard.reduce((sum, { count }) => sum + count, 0)} frames of it came.`
        : `${hearer.name}, which has to hear it, is not there.`;
      return [{ ...{ deviceId, name: sender.name, seen, test: null }, causes: [{ ...why, more: [], against: [], likelihood: 1 }] }];
    });
  });
}

/** What is the matter with the bus itself, or with whether both are on it. */
function whyOfBus({ line, sender, hearer }: Pair, stations: readonly Station[]): Why | null {
  const isTroubled = ({ now }: Station) =>
    now?.errors != null && (now.errors.state !== 'error active' || Math.max(now.errors.transmit, now.errors.receive) >= WARNING);
  const troubled = stations.filter(isTroubled);
  const counters = stations.flatMap(({ name, now }) =>
    now?.errors ? [`${name}: ${now.errors.state}, ${now.errors.transmit} sending, ${now.errors.receive} hearing`] : [],
  );
  const evidence = `Errors that the stations count: ${counters.join('; ')}.`;
  const other = stations.find(({ port, now }) => now && port.bitrate !== line.bitrate);
  if (other && (troubled.length > 0 || other === sender || other === hearer))
    return {
      ...{ cause: 'bitrate-differs', evidence, at: { entity: 'port', id: other.port.id } },
      sentence: `${other.name} is set to ${other.port.bitrate / 1000} kbit/s on ${line.name}, which runs at ${line.bitrate / 1000}: it understands nothing, and destroys what the others send.`,
    };
  if (!sender.now?.errors)
    return {
      ...{ cause: 'station-silent', at: { entity: 'port', id: sender.port.id } },
      sentence: `${sender.name} is not on ${line.name}: it is off, not connected, or on another bus.`,
      evidence:
        hearer.now?.errors && hearer.now.errors.transmit >= WARNING
          ? `${evidence} What ${hearer.name} sends is acknowledged by nobody.`
          : evidence,
    };
  if (!hearer.now?.errors)
    return {
      ...{ cause: 'nobody-hears', evidence, at: { entity: 'port', id: hearer.port.id } },
      sentence: `${hearer.name} is not on ${line.name}, so nobody takes what ${sender.name} sends.`,
    };
  if (troubled.length === 0) return null;
  const ends = stations.filter(({ port }) => port.terminated).length;
  return {
    ...{ cause: 'frames-destroyed', evidence, at: { entity: 'line', id: line.id } },
    sentence: `Frames on ${line.name} are destroyed on their way: ${ends === 2 ? 'look for a bad contact or shield, a stub that is too long, or a station that is drawn with another bit rate than it has' : `${ends} of its stations are terminated and two have to be, those at its ends`}.`,
  };
}

/** What is the matter with frames one by one, where the bus is well. */
function whyOfFrames(pair: Pair, all: readonly CarriedFrame[]): Why | null {
  for (const frame of pair.frames) {
    const why = frame.direction === 'sent' ? whyNotHeard(frame, pair, all) : whyNotSent(frame, pair);
    if (why) return why;
  }
  return null;
}

function whyNotHeard(frame: CarriedFrame, { sender, hearer, line }: Pair, all: readonly CarriedFrame[]): Why | null {
  const at: Place = { entity: 'frame', id: frame.id };
  const heard = hearer.now!.frames.find(({ id, way }) => id === frame.id && way === 'heard');
  const sent = sender.now!.frames.find(({ id, way }) => id === frame.id && way === 'sent');
  if (!heard) return null;
  if (sent?.problem && sent.count === 0)
    return {
      ...{ cause: 'value-does-not-fit', at },
      sentence: `${sender.name} does not send ${frame.name}: ${sent.problem}`,
      evidence: 'It says so itself.',
    };
  const everyMs = periodOf(frame);
  const hasCome = heard.count > 0;
  const awayMs = Math.max(frame.lostAfterMs, 2 * (everyMs ?? Infinity));
  const isAway = (heard.ageMs ?? hearer.now!.upMs) > awayMs;
  if (heard.problem && (isAway || !hasCome))
    return {
      ...{ cause: 'frame-shorter', at },
      sentence: `${frame.name} of ${sender.name} comes otherwise than it is described: ${heard.problem} Nothing of it is taken.`,
      evidence: `${heard.damaged} came so${hasCome ? ', and before that such as fit' : ', and none that fits'}.`,
    };
  const isNew = (one: StrangeFrame) => one.ageMs <= awayMs && !all.some((known) => !known.whole && isFrameOf(known, one));
  const unlike = isAway ? hearer.now!.strangers.filter(isNew) : [];
  const stranger = likeliest(frame, unlike);
  if (stranger) return { ...stranger, at };
  if (isAway && !hasCome)
    return {
      ...{ cause: 'frame-never-came', at },
      sentence: `${frame.name} (${hexIdentifier(frame)}, ${frame.identifierBits} bits) has never come over ${line.name}: ${sender.name} does not send it, or sends it only after it was switched to it.`,
      evidence: `${hearer.name} hears the bus well, and ${hearer.now!.unknown} frames that the project does not know.`,
    };
  if (isAway)
    return {
      ...{ cause: 'frame-stopped', at },
      sentence: `${frame.name} of ${sender.name} came and comes no more: it is off, or something in it has stopped sending.`,
      evidence: `The last came ${(heard.ageMs! / 1000).toFixed(1)} s ago, and it is due every ${everyMs} ms.`,
    };
  if (heard.lost >= OFTEN)
    return {
      ...{ cause: 'frame-comes-late', at },
      sentence: `${frame.name} of ${sender.name} stays away again and again for more than the ${frame.lostAfterMs} ms after which it counts as lost: it is sent less often than is said, or that time is too short.`,
      evidence: `It stayed away ${heard.lost} times among ${heard.count} that came.`,
    };
  return null;
}

function whyNotSent(frame: CarriedFrame, { sender, hearer, line }: Pair): Why | null {
  const sent = hearer.now!.frames.find(({ id, way }) => id === frame.id && way === 'sent');
  if (!sent?.problem) return null;
  return {
    ...{ cause: 'not-sent', at: { entity: 'frame', id: frame.id } },
    sentence: `${hearer.name} does not send ${frame.name} to ${sender.name}: ${sent.problem}`,
    evidence: `${sent.count} of it went over ${line.name} before.`,
  };
}

/** What of the frames that nobody knows is likely this one, with how its identifier went wrong. */
function likeliest(frame: CarriedFrame, strangers: readonly StrangeFrame[]): Omit<Why, 'at'> | null {
  const own = hexIdentifier(frame);
  const described = `${frame.name} is described with identifier ${own} of ${frame.identifierBits} bits`;
  const tries: [cause: string, matches: (other: StrangeFrame) => boolean, says: (hex: string, other: StrangeFrame) => string][] = [
    [
      'identifier-bits',
      (other) => other.identifier === frame.identifier && other.identifierBits !== frame.identifierBits,
      (hex, { identifierBits }) => `and ${hex} of ${identifierBits} bits comes: it is the same number as a frame of the other kind.`,
    ],
    [
      'identifier-decimal',
      (other) => isReadAs(frame, other) || isReadAs(other, frame),
      (hex) => `and ${hex} comes: one of the two is a decimal number that was taken for hex, or the other way round.`,
    ],
    ['identifier-turned', (other) => turned(frame) === other.identifier, (hex) => `and ${hex} comes: its bytes are the other way round.`],
    [
      'node-differs',
      (other) => {
        const differs = (other.identifier ^ frame.identifier) >>> 0;
        return (
          other.identifierBits === frame.identifierBits && (differs < 0x100 || (frame.identifierBits === 11 && (differs & ~0x7f) === 0))
        );
      },
      (hex) => `and ${hex} comes: the number of the station in it is another than that which is set on the device.`,
    ],
  ];
  for (const [cause, matches, says] of tries) {
    const found = strangers.find((other) => other.bytes >= frame.bytes && matches(other)) ?? strangers.find(matches);
    if (found)
      return {
        cause,
        sentence: `${described}, ${says(hexIdentifier(found), found)}`,
        evidence: `${found.count} of those came, with ${found.bytes} bytes of data; ${frame.bytes} are described.`,
      };
  }
  return null;
}

/** Whether the decimal figures of the one, taken for hex, are the other. */
function isReadAs({ identifier }: CanIdentifier, other: CanIdentifier): boolean {
  return identifier > 9 && parseInt(String(identifier), 16) === other.identifier;
}

function turned({ identifier, identifierBits }: CanIdentifier): number {
  const bytes = identifierBits === 11 ? [identifier & 0xff, identifier >>> 8] : [0, 8, 16, 24].map((by) => (identifier >>> by) & 0xff);
  return bytes.reduce((sum, byte) => sum * 256 + byte, 0) & lastIdentifier(29);
}
