import * as z from 'zod';

export const ChecksumKind = z.enum(['crc16-modbus', 'lrc', 'xor8', 'sum8']);
export type ChecksumKind = z.infer<typeof ChecksumKind>;

/** A CRC of 16 bits whose lowest bit goes first, over the bytes from one place to before another. `polynomial` is reflected. */
export function reflectedCrc16(polynomial: number, start: number): (bytes: ArrayLike<number>, from?: number, to?: number) => number {
  const table = Uint16Array.from({ length: 256 }, (_, byte) => {
    let crc = byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ polynomial : crc >>> 1;
    return crc;
  });
  return (bytes, from = 0, to = bytes.length) => {
    let crc = start;
    for (let at = from; at < to; at++) crc = (crc >>> 8) ^ table[(crc ^ bytes[at]!) & 0xff]!;
    return crc;
  };
}

/**
 * CRC-16 of an RTU frame: polynomial A001 reflected, start FFFF (Modbus over serial line V1.02, 6.2.2).
 * It is sent low byte first. Example: `01 03 00 00 00 0A` has C5CD, sent as `C5 CD`, the number CDC5.
 */
export const crc16 = reflectedCrc16(0xa001, 0xffff);

/** Longitudinal check of an ASCII frame: two's complement of the sum of its bytes (V1.02, 6.2.1). */
export function lrc(bytes: ArrayLike<number>): number {
  return -sum8(bytes) & 0xff;
}

function sum8(bytes: ArrayLike<number>): number {
  return Array.from(bytes).reduce((sum, byte) => (sum + byte) & 0xff, 0);
}

function xor8(bytes: ArrayLike<number>): number {
  return Array.from(bytes).reduce((sum, byte) => sum ^ byte, 0);
}

/** The checksum as a number, and its bytes in the order in which they are sent. */
export function checksum(kind: ChecksumKind, bytes: ArrayLike<number>): { value: number; bytes: number[] } {
  switch (kind) {
    case 'crc16-modbus': {
      const value = crc16(bytes);
      return { value, bytes: [value & 0xff, value >>> 8] };
    }
    case 'lrc':
      return one(lrc(bytes));
    case 'xor8':
      return one(xor8(bytes));
    case 'sum8':
      return one(sum8(bytes));
  }
}

function one(value: number): { value: number; bytes: number[] } {
  return { value, bytes: [value] };
}
