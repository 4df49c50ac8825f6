import { reflectedCrc16 } from '../frame/index.js';

/** With what each frame of the link layer begins (IEEE 1815, clause 9). */
const START = [0x05, 0x64] as const;
const HEAD_BYTES = 10;
const BLOCK = 16;
/** Of user data, one octet of the transport function among it. */
export const MOST_USER_BYTES = 250;
const LEAST_LENGTH = 5;

/** A frame of the link layer: from whom to whom, what for, and what it carries. */
export interface LinkFrame {
  /** The control station sends it. */
  fromMaster: boolean;
  /** It asks something of the other link layer, and is no answer. */
  isPrimary: boolean;
  /** Frame count bit and whether it counts; of an answer the second says that no more can be taken. */
  countBit: boolean;
  countValid: boolean;
  functionCode: number;
  destination: number;
  source: number;
  data: Uint8Array;
}

const reflected = reflectedCrc16(0xa6bc, 0);

/** The check over the head and over each block: polynomial 3D65 reflected, start 0, complemented; sent low octet first. */
export function crc1815(bytes: ArrayLike<number>, from = 0, to = bytes.length): number {
  return ~reflected(bytes, from, to) & 0xffff;
}

const low16 = (value: number): number[] => [value & 0xff, value >> 8];

/** How many octets a frame with so much user data has. */
export function linkBytes(userBytes: number): number {
  return HEAD_BYTES + userBytes + 2 * Math.ceil(userBytes / BLOCK);
}

/** `data` has at most 250 octets. */
export function buildLink({ fromMaster, isPrimary, countBit, countValid, functionCode, destination, source, data }: LinkFrame): Uint8Array {
  const control =
    (fromMaster ? 0x80 : 0) | (isPrimary ? 0x40 : 0) | (countBit ? 0x20 : 0) | (countValid ? 0x10 : 0) | (functionCode & 0x0f);
  const head = [...START, LEAST_LENGTH + data.length, control, ...low16(destination), ...low16(source)];
  const bytes = [...head, ...low16(crc1815(head))];
  for (let at = 0; at < data.length; at += BLOCK) {
    const block = data.subarray(at, at + BLOCK);
    bytes.push(...block, ...low16(crc1815(block)));
  }
  return Uint8Array.from(bytes);
}

/** A frame as it was found in what came: `from` is its first octet. */
export interface FoundLink {
  from: number;
  bytes: Uint8Array;
  /** Null where a check is wrong. */
  frame: LinkFrame | null;
  problem: string | null;
}

/** Takes a whole frame apart. */
export function readLink(bytes: Uint8Array): Omit<FoundLink, 'from' | 'bytes'> {
  const wrong = (problem: string) => ({ frame: null, problem });
  if (bytes[0] !== START[0] || bytes[1] !== START[1]) return wrong('It does not begin with 05 64.');
  if (bytes.length < HEAD_BYTES) return wrong('Its head is not whole.');
  const length = bytes[2]!;
  if (length < LEAST_LENGTH) return wrong(`Its length is ${length}, and its head alone has ${LEAST_LENGTH}.`);
  const user = length - LEAST_LENGTH;
  if (bytes.length !== linkBytes(user)) return wrong(`By its length it has ${linkBytes(user)} octets, and there are ${bytes.length}.`);
  const check = (at: number) => bytes[at]! | (bytes[at + 1]! << 8);
  if (check(8) !== crc1815(bytes, 0, 8)) return wrong('The check of its head is wrong.');
  const data = new Uint8Array(user);
  for (let at = 0, from = HEAD_BYTES, block = 1; at < user; at += BLOCK, block++) {
    const size = Math.min(BLOCK, user - at);
    if (check(from + size) !== crc1815(bytes, from, from + size)) return wrong(`The check of its block ${block} is wrong.`);
    data.set(bytes.subarray(from, from + size), at);
    from += size + 2;
  }
  const control = bytes[3]!;
  const frame: LinkFrame = {
    ...{ fromMaster: (control & 0x80) !== 0, isPrimary: (control & 0x40) !== 0, countBit: (control & 0x20) !== 0 },
    ...{ countValid: (control & 0x10) !== 0, functionCode: control & 0x0f, destination: check(4), source: check(6), data },
  };
  return { frame, problem: null };
}

/** Cuts what comes over a connection into frames; what is none is passed over up to the next 05 64, and told by `lost`. */
export class LinkStream {
  private held: Uint8Array = new Uint8Array();
  private at = 0;
  /** Octets that belonged to no frame. */
  lost = 0;

  push(bytes: Uint8Array): FoundLink[] {
    const all = new Uint8Array(this.held.length + bytes.length);
    all.set(this.held);
    all.set(bytes, this.held.length);
    const found: FoundLink[] = [];
    let from = 0;
    for (;;) {
      const start = startIn(all, from);
      this.lost += start - from;
      from = start;
      if (all.length - from < HEAD_BYTES) break;
      const length = all[from + 2]!;
      const size = length < LEAST_LENGTH ? 0 : linkBytes(length - LEAST_LENGTH);
      const isHeadSound = size > 0 && (all[from + 8]! | (all[from + 9]! << 8)) === crc1815(all, from, from + 8);
      // A head that is wrong says nothing of where the next begins.
      if (!isHeadSound) {
        from += 1;
        this.lost += 1;
        continue;
      }
      if (from + size > all.length) break;
      const own = all.slice(from, from + size);
      found.push({ from: this.at + from, bytes: own, ...readLink(own) });
      from += size;
    }
    this.held = all.slice(from);
    this.at += from;
    return found;
  }
}

/** Where the next frame begins, or may begin once more has come. */
function startIn(bytes: Uint8Array, from: number): number {
  for (let at = bytes.indexOf(START[0], from); at >= 0; at = bytes.indexOf(START[0], at + 1))
    if (at + 1 === bytes.length || bytes[at + 1] === START[1]) return at;
  return bytes.length;
}

const primary: Readonly<Record<number, string>> = {
  0: 'reset of the link',
  2: 'test of the link',
  3: 'confirmed user data',
  4: 'user data',
  9: 'question after the state of the link',
};
const secondary: Readonly<Record<number, string>> = { 0: 'acknowledgement', 1: 'refusal', 11: 'state of the link', 15: 'not supported' };

export function linkFunction({ isPrimary, functionCode }: Pick<LinkFrame, 'isPrimary' | 'functionCode'>): string {
  return (isPrimary ? primary : secondary)[functionCode] ?? `link function ${functionCode}`;
}
