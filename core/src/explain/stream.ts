import { pduLength } from '../codec/index.js';
import { crc16, type Direction, functionOf } from '../frame/index.js';
import { explainFrame, type ExplainedFrame } from './explain.js';

/** A whole frame in a recorded stream, `from` and `to` zero-based in the stream and both counted. */
export interface StreamFrame extends ExplainedFrame {
  from: number;
  to: number;
  direction: Direction;
  /** For an answer: which frame of the list it answers; null for a request, and for an answer whose request is not there. */
  answers: number | null;
}

export interface Stream {
  frames: StreamFrame[];
  noise: { from: number; to: number }[];
}

const SHORTEST = 4;
const LONGEST = 256;

/**
 * Finds the whole RTU frames in a recorded stream by their length and checksum (Modbus over serial line V1.02, 2.5.1), and
 * ties each answer to its request; what belongs to no frame is noise. Between two that fit, the one that continues the talk
 * is taken: an answer where a request of that unit and function is open, a request otherwise.
 */
export function readStream(bytes: Uint8Array): Stream {
  const frames: StreamFrame[] = [];
  const noise: Stream['noise'] = [];
  let open: number | null = null;
  for (let at = 0; at < bytes.length;) {
    const asked = open === null ? null : bytes.subarray(frames[open]!.from, frames[open]!.to + 1);
    const found = frameAt(bytes, at, asked);
    if (!found) {
      const last = noise.at(-1);
      if (last?.to === at - 1) last.to = at;
      else noise.push({ from: at, to: at });
      at += 1;
      continue;
    }
    const { length, direction } = found;
    const answers: number | null = direction === 'response' && asked && isAnswerTo(bytes, at, asked) ? open : null;
    frames.push({ ...explainFrame(bytes.subarray(at, at + length), 'rtu', direction), from: at, to: at + length - 1, direction, answers });
    // Nobody answers a broadcast.
    open = direction === 'request' && bytes[at] !== 0 ? frames.length - 1 : null;
    at += length;
  }
  return { frames, noise };
}

function frameAt(bytes: Uint8Array, at: number, asked: Uint8Array | null): { length: number; direction: Direction } | null {
  const code = bytes[at + 1];
  if (code === undefined) return null;
  if (code & 0x80) return isWhole(bytes, at, 5) ? { length: 5, direction: 'response' } : null;
  const expected: Direction = asked && isAnswerTo(bytes, at, asked) ? 'response' : 'request';
  const told = (direction: Direction) => pduLength(bytes.subarray(at + 1), direction);
  if (told('request') !== null) {
    const fitting = [expected, expected === 'request' ? ('response' as const) : ('request' as const)].flatMap((direction) => {
      const length = (told(direction) ?? Infinity) + 3;
      return isWhole(bytes, at, length) ? [{ length, direction }] : [];
    });
    // Three bytes of an answer to a read look like a request for thousands.
    return fitting.find(({ direction }) => direction === 'response' || mayAsk(bytes, at)) ?? fitting[0] ?? null;
  }
  // A function whose length is not known is found by its checksum alone; codes past 127 were told apart above, 0 does not exist.
  for (let length = SHORTEST; code > 0 && length <= LONGEST; length++)
    if (isWhole(bytes, at, length)) return { length, direction: expected };
  return null;
}

/** Whether a request that begins here asks for no more than a request may. */
function mayAsk(bytes: Uint8Array, at: number): boolean {
  const known = functionOf(bytes[at + 1]!);
  if (known?.kind !== 'read') return true;
  const count = (bytes[at + 4]! << 8) | bytes[at + 5]!;
  return count >= 1 && count <= known.most;
}

function isAnswerTo(bytes: Uint8Array, at: number, asked: Uint8Array): boolean {
  return bytes[at] === asked[0] && (bytes[at + 1]! & 0x7f) === asked[1];
}

function isWhole(bytes: Uint8Array, at: number, length: number): boolean {
  const end = at + length;
  if (length < SHORTEST || length > LONGEST || end > bytes.length) return false;
  return crc16(bytes, at, end - 2) === (bytes[end - 2]! | (bytes[end - 1]! << 8));
}
