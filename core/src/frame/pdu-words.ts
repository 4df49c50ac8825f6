import { bytesText, toHex } from './hex.js';

export function unlikeBytes(stated: number, found: number): string {
  return `${bytesText(stated)} of data stated; ${there(found)}.`;
}

export function there(count: number): string {
  return count === 1 ? '1 is there' : `${count} are there`;
}

export function wordAt(pdu: Uint8Array, at: number): number {
  return ((pdu[at] ?? 0) << 8) | (pdu[at + 1] ?? 0);
}

/** Which of so many bits are on: `bits 0, 2, 5`. */
export function bitsText(word: number, count: number): string {
  const on = Array.from({ length: count }, (_, bit) => bit).filter((bit) => (word >>> bit) & 1);
  return on.length === 0 ? 'no bit' : `bit${on.length > 1 ? 's' : ''} ${on.join(', ')}`;
}

/** A word as its two bytes. */
export function hexText(word: number): string {
  return toHex([word >>> 8, word & 0xff]);
}
