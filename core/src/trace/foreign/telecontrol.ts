import { stationsOn } from '../../stations/index.js';
import type { FrameField } from '../../frame/index.js';
import { explainFrame104, type Held as Held104, readAsdu, readFrame104 } from '../../iec104/index.js';
import { explain1815, kindOfGroup, readFragment, readLink } from '../../ieee1815/index.js';
import { addressKey, type EventPoint, isEventPoint, type Standard, wordsOfSaid } from '../../telecontrol-line/index.js';
import type { SeenPoint } from '../told.js';
import type { FieldKind } from '../told.js';
import type { Foreign } from './definition.js';
import { saidOf } from './in-bytes.js';
import { perLine, sendersIn } from './on-line.js';

interface Explained {
  ok: boolean;
  sentence: string;
  problems: string[];
  fields: FrameField[];
}
/** What a frame says of a point, by its address. */
interface SaidOf {
  key: string;
  value: number;
}

/** Frames of one standard: each octet explained, and with the points of the project that they are about. */
function framesOf(standard: Standard, explain: (bytes: Uint8Array) => Explained, saidIn: (bytes: Uint8Array) => SaidOf[]): Foreign {
  return {
    one: 'frame',
    linkType: null,
    teller(document) {
      const pointsAt = perLine(document, (of, lineId) => stationsOn(of, lineId).flatMap(({ points }) => points.filter(isEventPoint)));
      const senderOf = sendersIn(document);
      return (entry) => {
        const device = senderOf(entry.requestId);
        const who = device?.name ?? 'Plain Envoy';
        const bytes = entry.sent ?? new Uint8Array();
        const told = explain(bytes);
        const points = () => saidIn(bytes).flatMap((said) => pointsOf(standard, pointsAt(entry.endpointId), said));
        const names = points().map(({ point, value }) => `${point.name} ${value}`);
        const way = entry.end === 'arrived' ? '' : ' It is lost on its way.';
        return {
          ...{ device, who, span: null },
          sentence: `${who}: ${names.length ? `${names.join(', ')}. ` : ''}${told.sentence}${way}`,
          isTrouble: entry.end !== 'arrived' || !told.ok,
          points: () => (entry.end === 'arrived' ? points() : []),
          frames: () => [
            { name: 'Frame', fields: told.fields.map((field) => ({ ...field, kind: kindOf(field.name) })), problems: told.problems },
          ],
        };
      };
    },
  };
}

/** Frames of IEC 60870-5-104. */
export const iec104 = framesOf('iec60870-5-104', explainFrame104, (bytes) => {
  const frame = readFrame104(bytes);
  const read = frame.ok && frame.value.kind === 'numbered' ? readAsdu(frame.value.asdu) : null;
  if (!read || read.problems.length > 0) return [];
  return read.asdu.objects.flatMap(({ address, held }) => said(String(address), held));
});

/** Groups of IEEE 1815 that are commands. */
const commanded: Readonly<Record<number, string>> = { 12: 'output', 41: 'set point' };
/** Operations that switch something on. */
const ON = [1, 3];

/** Frames of IEEE 1815. */
export const ieee1815 = framesOf('ieee1815', explain1815, (bytes) => {
  const { frame } = readLink(bytes);
  const isWhole = frame !== null && (frame.data[0]! & 0xc0) === 0xc0;
  const read = isWhole ? readFragment(frame.data.subarray(1)) : null;
  if (!read || read.problem !== null) return [];
  return read.fragment.headers.flatMap(({ group, objects }) => {
    const kind = kindOfGroup.get(group) ?? commanded[group];
    return kind
      ? objects.flatMap(({ index, held }) =>
          said(`${kind} ${index}`, group === 12 ? { value: Number(ON.includes(Number(held['operation']))) } : held),
        )
      : [];
  });
});

function said(key: string, held: Held104): SaidOf[] {
  const { value } = held;
  return typeof value === 'number' ? [{ key, value }] : [];
}

function pointsOf(standard: Standard, points: readonly EventPoint[], { key, value }: SaidOf): SeenPoint[] {
  return points.flatMap((point): SeenPoint[] => {
    if (point.place.part !== 'value' || addressKey(standard, point.place) !== key) return [];
    const words = wordsOfSaid(standard, point, value);
    return words.ok ? [{ point, value: saidOf(words.value, point) }] : [];
  });
}

/** What the octets of a field are about, by its name. */
function kindOf(name: string): FieldKind {
  if (/check/.test(name)) return 'check';
  if (/start|length|transport|reserved/.test(name)) return 'head';
  if (/destination|source|station|address/.test(name)) return 'unit';
  if (/control|function|type|cause|application/.test(name)) return 'function';
  if (/object|count/.test(name)) return 'amount';
  return /not explained|rest/.test(name) ? 'wrong' : 'data';
}
