import { bad, good, type Outcome } from '../outcome/index.js';

/** What an end of a link says of its blocks when it opens it, or refuses it: sizes in bytes, and the interval in ms. */
export interface LinkSizes {
  inputBytes: number;
  outputBytes: number;
  intervalMs: number;
}

/**
 * What goes between the two ends of a cyclic link, a datagram each. First the kind, then our version of it, then a number of two bytes that
 * counts up with each block; all numbers high byte first. An opening, its answer and a refusal carry the sizes as their sender has them;
 * a block carries its bytes.
 */
export type LinkDatagram = ({ kind: 'open' | 'opened' | 'refused' } & LinkSizes) | { kind: 'block'; number: number; data: Uint8Array };

export const HEAD_BYTES = 4;
const SIZES_BYTES = HEAD_BYTES + 2 + 2 + 4;
const VERSION = 1;
const kinds = ['open', 'opened', 'refused', 'block'] as const;

/** The number after this one; it begins anew after 65535. */
export function nextNumber(number: number): number {
  return (number + 1) & 0xffff;
}

export function writeDatagram(datagram: LinkDatagram): Uint8Array {
  const bytes = new Uint8Array(datagram.kind === 'block' ? HEAD_BYTES + datagram.data.length : SIZES_BYTES);
  const view = new DataView(bytes.buffer);
  bytes[0] = kinds.indexOf(datagram.kind) + 1;
  bytes[1] = VERSION;
  if (datagram.kind === 'block') {
    view.setUint16(2, datagram.number);
    bytes.set(datagram.data, HEAD_BYTES);
    return bytes;
  }
  view.setUint16(4, datagram.inputBytes);
  view.setUint16(6, datagram.outputBytes);
  view.setUint32(8, datagram.intervalMs);
  return bytes;
}

export function readDatagram(bytes: Uint8Array): Outcome<LinkDatagram> {
  if (bytes.length < HEAD_BYTES) return bad(`It has ${bytes.length} of at least ${HEAD_BYTES} bytes.`);
  const kind = kinds[bytes[0]! - 1];
  if (!kind) return bad(`No datagram of a cyclic link is of kind ${bytes[0]}.`);
  if (bytes[1] !== VERSION) return bad(`It is of version ${bytes[1]}, and ${VERSION} is known.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (kind === 'block') return good({ kind, number: view.getUint16(2), data: bytes.slice(HEAD_BYTES) });
  if (bytes.length !== SIZES_BYTES) return bad(`It has ${bytes.length} of ${SIZES_BYTES} bytes.`);
  return good({ kind, inputBytes: view.getUint16(4), outputBytes: view.getUint16(6), intervalMs: view.getUint32(8) });
}
