import { joined } from '../common/index.js';
import { MOST_USER_BYTES } from './link.js';

/** The octet of the transport function (IEEE 1815, clause 8): whether a fragment begins or ends in it, and its number. */
export interface TransportHead {
  isFirst: boolean;
  isFinal: boolean;
  sequence: number;
}

const SEQUENCE_END = 64;
const MOST_BYTES = MOST_USER_BYTES - 1;
/** A fragment that grows past this is given up. */
const MOST_FRAGMENT = 65_536;

export function readTransport(octet: number): TransportHead {
  return { isFinal: (octet & 0x80) !== 0, isFirst: (octet & 0x40) !== 0, sequence: octet & 0x3f };
}

/** A fragment of the application layer in as many pieces as it needs, the first with this number. */
export function segments(fragment: Uint8Array, sequence: number): Uint8Array[] {
  const count = Math.max(1, Math.ceil(fragment.length / MOST_BYTES));
  return Array.from({ length: count }, (_, index) => {
    const head = (index === count - 1 ? 0x80 : 0) | (index === 0 ? 0x40 : 0) | ((sequence + index) % SEQUENCE_END);
    return joined([Uint8Array.of(head), fragment.subarray(index * MOST_BYTES, (index + 1) * MOST_BYTES)]);
  });
}

/** Puts the pieces of fragments together. One that comes out of turn ends what was begun. */
export class Assembly {
  private parts: Uint8Array[] = [];
  private next: number | null = null;

  /** The whole fragment once its last piece is there; null until then. */
  push(segment: Uint8Array): Uint8Array | null {
    const octet = segment[0];
    if (octet === undefined) return null;
    const { isFirst, isFinal, sequence } = readTransport(octet);
    if (isFirst) this.parts = [];
    else if (this.next === null || sequence !== this.next) {
      this.next = null;
      return null;
    }
    this.parts.push(segment.subarray(1));
    this.next = (sequence + 1) % SEQUENCE_END;
    if (!isFinal && this.parts.length * MOST_BYTES <= MOST_FRAGMENT) return null;
    this.next = null;
    return isFinal ? joined(this.parts) : null;
  }
}
