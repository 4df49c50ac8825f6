import { type Direction, functionOf } from '../frame/index.js';
import { inquiryOf } from './inquiries/index.js';

/**
 * Bytes of the PDU that begins here, as its function code and byte count say (V1.1b3, section 6): Infinity while these have not
 * come, null where they do not tell. What follows it may be there too.
 */
export function pduLength(pdu: Uint8Array, direction: Direction): number | null {
  const code = pdu[0];
  if (code === undefined) return Infinity;
  if (code & 0x80) return direction === 'response' ? 2 : null;
  const known = functionOf(code);
  if (!known) return inquiryOf(code)?.bytes(pdu, direction) ?? null;
  if (known.kind === 'mask') return 7;
  const countAt = byteCountAt(known.kind, direction);
  if (countAt === null) return 5;
  return pdu.length > countAt ? countAt + 1 + pdu[countAt]! : Infinity;
}

/** Where it says how many bytes of data follow; null where none do. */
function byteCountAt(kind: 'read' | 'write-one' | 'write-many' | 'exchange', direction: Direction): number | null {
  if (direction === 'response') return kind === 'read' || kind === 'exchange' ? 1 : null;
  return kind === 'write-many' ? 5 : kind === 'exchange' ? 9 : null;
}
