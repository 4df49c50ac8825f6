import { bad, good, type Outcome } from '../outcome/index.js';
import { lastIdentifier, MOST_BYTES } from '../can-id/index.js';
import type { CanFrame } from './wire.js';

/** Flags of the identifier: an extended one, and a remote frame. */
const [EXTENDED, REMOTE] = [0x8000_0000, 0x4000_0000];
const HEAD_BYTES = 8;

/**
 * A frame as captures have it (LINKTYPE_CAN_SOCKETCAN): four bytes of identifier with its flags, the highest first, one of length, three
 * that are 0, and the data.
 */
export function toSocketCan({ identifierBits, identifier, data, isRemote = false }: CanFrame): Uint8Array {
  const bytes = new Uint8Array(HEAD_BYTES + data.length);
  const flagged = (identifier | (identifierBits === 29 ? EXTENDED : 0) | (isRemote ? REMOTE : 0)) >>> 0;
  new DataView(bytes.buffer).setUint32(0, flagged);
  bytes[4] = data.length;
  bytes.set(data, HEAD_BYTES);
  return bytes;
}

export function fromSocketCan(bytes: Uint8Array): Outcome<CanFrame> {
  const length = bytes[4] ?? 0;
  if (bytes.length < HEAD_BYTES || length > MOST_BYTES || bytes.length < HEAD_BYTES + length) return bad('It is no frame of CAN.');
  const flagged = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0);
  const identifierBits = flagged >= EXTENDED ? 29 : 11;
  const isRemote = (flagged & REMOTE) !== 0;
  const identifier = (flagged & lastIdentifier(identifierBits)) >>> 0;
  return good({ identifierBits, identifier, data: bytes.slice(HEAD_BYTES, HEAD_BYTES + length), ...(isRemote ? { isRemote } : {}) });
}
