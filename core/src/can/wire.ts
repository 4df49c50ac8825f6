import type { CanIdentifier } from '../can-id/index.js';
import { AFTER_BITS } from './time.js';

/** A frame as it is on the bus. */
export interface CanFrame extends CanIdentifier {
  data: Uint8Array;
  /** It asks for the frame with this identifier, and has no data of its own. */
  isRemote?: boolean;
}

const POLYNOMIAL = 0x4599;
const CHECK_BITS = 15;

/** The bits of a frame from its start to the end of its checksum, none stuffed: 0 is dominant (ISO 11898-1). */
export function plainBits({ identifierBits, identifier, data, isRemote = false }: CanFrame): number[] {
  const bits: number[] = [0];
  const put = (value: number, count: number) => {
    for (let bit = count - 1; bit >= 0; bit--) bits.push(Math.floor(value / 2 ** bit) & 1);
  };
  const remote = Number(isRemote);
  if (identifierBits === 11) put(identifier, 11);
  else put(identifier >>> 18, 11);
  // A base frame: remote, no extension, one reserved. An extended one: recessive in the place of remote, extension, the other 18.
  if (identifierBits === 11) put(remote << 2, 3);
  else {
    put(0b11, 2);
    put(identifier & 0x3ffff, 18);
    put(remote << 2, 3);
  }
  put(data.length, 4);
  if (!isRemote) for (const byte of data) put(byte, 8);
  put(checkOf(bits), CHECK_BITS);
  return bits;
}

/** The checksum of 15 bits over the bits before it. */
function checkOf(bits: readonly number[]): number {
  return bits.reduce((check, bit) => {
    const shifted = (check << 1) & 0x7fff;
    return ((check >> 14) ^ bit) & 1 ? shifted ^ POLYNOMIAL : shifted;
  }, 0);
}

/** How many bits are stuffed: the opposite after five alike, and it counts as the first of those that follow. */
export function stuffedIn(bits: readonly number[]): number {
  let [alike, last, stuffed] = [0, -1, 0];
  for (const bit of bits) {
    alike = bit === last ? alike + 1 : 1;
    last = bit;
    if (alike < 5) continue;
    stuffed += 1;
    [alike, last] = [1, 1 - bit];
  }
  return stuffed;
}

/** How many bits a frame really takes on the bus, with those stuffed and the space after it. */
export function bitsOnBus(frame: CanFrame): number {
  const bits = plainBits(frame);
  return bits.length + stuffedIn(bits) + AFTER_BITS;
}
