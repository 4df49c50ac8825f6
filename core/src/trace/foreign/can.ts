import { type CanFrame, fromSocketCan, hexIdentifier } from '../../can/index.js';
import { knownFrame } from '../../can-line/index.js';
import { type CarriedFrame, framesOn } from '../../converter/index.js';
import { toHex } from '../../frame/index.js';
import type { TraceEntry } from '../record.js';
import type { SeenPoint, ToldFrame } from '../told.js';
import type { Foreign } from './definition.js';
import { inByte, partsOf, valuesIn } from './in-bytes.js';
import { perLine, sendersIn } from './on-line.js';

/** Frames of CAN: told by the frames of the project that they are. */
export const can: Foreign = {
  one: 'frame',
  linkType: 227,
  teller(document) {
    const framesAt = perLine(document, framesOn);
    const senderOf = sendersIn(document);
    return (entry) => {
      const device = senderOf(entry.requestId);
      const who = device?.name ?? 'Somebody';
      const read = fromSocketCan(entry.sent ?? new Uint8Array());
      const frame = read.ok ? read.value : null;
      const known = (frame && knownFrame(framesAt(entry.endpointId), frame)) ?? null;
      const seen = () => (frame && known && entry.end === 'arrived' ? pointsOf(frame, known) : []);
      return {
        ...{ device, who, span: null },
        sentence: `${sentenceOf(who, frame, known)}${onItsWay(entry)}`,
        isTrouble: entry.end !== 'arrived' || (known !== null && frame !== null && isShort(frame, known)),
        points: seen,
        frames: () => (frame && entry.sent ? [toldFrame(entry.sent, frame, known)] : []),
      };
    };
  },
};

function sentenceOf(who: string, frame: CanFrame | null, known: CarriedFrame | null): string {
  if (!frame) return `${who} sends what is no frame.`;
  const identifier = hexIdentifier(frame);
  if (frame.isRemote) return `${who} asks for frame ${identifier}${known ? `, ${known.name}` : ''}.`;
  if (!known) return `${who} sends frame ${identifier}, which no frame of the project is: ${toHex(frame.data) || 'no data'}.`;
  const values = pointsOf(frame, known).map(({ point, value }) => `${point.name} ${value}`);
  const short = isShort(frame, known) ? ` It has ${frame.data.length} of its ${known.bytes} bytes.` : '';
  const said = known.whole ? toHex(frame.data) || 'no data' : values.join(', ');
  return `${who} sends ${known.name} (${identifier})${said ? `: ${said}` : ''}.${short}`;
}

function onItsWay({ end }: TraceEntry): string {
  if (end === 'silent') return ' Nobody acknowledges it.';
  return end === 'damaged' ? ' An error destroys it on its way.' : '';
}

function pointsOf(frame: CanFrame, known: CarriedFrame): SeenPoint[] {
  return frame.isRemote || isShort(frame, known) ? [] : valuesIn(frame.data, known.points);
}

/** Whether it has fewer bytes than are taken apart. */
function isShort({ data }: CanFrame, { bytes, whole }: CarriedFrame): boolean {
  return !whole && data.length < bytes;
}

function toldFrame(bytes: Uint8Array, frame: CanFrame, known: CarriedFrame | null): ToldFrame {
  const part = partsOf(bytes);
  const { identifierBits, data, isRemote } = frame;
  const points = known?.points ?? [];
  return {
    name: 'Frame',
    fields: [
      part('identifier', 0, 3, 'unit', `${hexIdentifier(frame)}, ${identifierBits} bits${isRemote ? ', a remote frame' : ''}`),
      part('length', 4, 4, 'amount', `${data.length} ${data.length === 1 ? 'byte' : 'bytes'} of data`),
      part('reserved', 5, 7, 'head', 'always 0'),
      ...[...data].map((_, byte) => part(`byte ${byte}`, 8 + byte, 8 + byte, 'data', inByte(points, data, byte))),
    ],
    problems: known && isShort(frame, known) ? [`It has ${data.length} of its ${known.bytes} bytes.`] : [],
  };
}
