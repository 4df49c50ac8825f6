import * as z from 'zod';
import { isBitTable } from '../address/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { MAX_IMAGE, stretchFields } from './stretch.js';

/** A stretch of an image as one side calls it: registers or bits of a table from an offset on, or bytes from its own 0 on. */
export const Window = z
  .strictObject({ side: z.string().min(1, 'Which side?').max(80, 'At most 80 characters.'), ...stretchFields })
  .refine(({ byte, bytes }) => byte + bytes <= MAX_IMAGE, { message: `An image has at most ${MAX_IMAGE} bytes.`, path: ['bytes'] });
export type Window = z.infer<typeof Window>;

/** A byte of an image, or a bit of one; `bit` counts from the lowest, null for the byte as a whole. */
export interface ImagePlace {
  byte: number;
  bit: number | null;
}

/**
 * A place as one side calls it. `byte` counts as that side does: from the beginning of its window, or from its own 0 where it has no
 * table. `bit` counts from the lowest bit of the register where there is one, else of the byte.
 */
export interface SidePlace {
  side: string;
  window: Window;
  byte: number;
  word: number;
  register: number | null;
  bit: number | null;
}

/** What one side names: a register of its table or a byte of its own, and a bit of that. */
export type Named = { side: string; bit?: number | undefined } & (
  { register: number; byte?: undefined } | { byte: number; register?: undefined }
);

/**
 * The byte and bit of the image that a side means. A register is two bytes: without a bit, its place is that of its lower byte in the
 * image. Example: in a high-first window of holding registers from 0 at byte 0, register 3 bit 8 is byte 6 bit 0.
 */
export function imagePlaceOf(windows: readonly Window[], named: Named): Outcome<ImagePlace> {
  const own = windows.filter(({ side }) => side === named.side);
  if (own.length === 0)
    return bad(
      `There is no side “${named.side}”; there is ${[...new Set(windows.map(({ side }) => `“${side}”`))].join(', ')}.`,
      'at',
      'side',
    );
  for (const window of own) {
    const place = named.register === undefined ? byteIn(window, named.byte) : registerIn(window, named.register, named.bit);
    if (!place) continue;
    const [most, what] =
      named.register !== undefined && !isBits(window) ? [15, 'register has the bits 0 to 15'] : [7, 'byte has the bits 0 to 7'];
    if (named.bit === undefined) return good(place);
    if (isBits(window) && named.register !== undefined) return bad('What is a bit already has none of its own.', 'at', 'bit');
    if (named.bit > most) return bad(`A ${what}.`, 'at', 'bit');
    return good({ byte: place.byte, bit: named.bit % 8 });
  }
  const what = named.register === undefined ? `byte ${named.byte}` : `register ${named.register}`;
  return bad(`${named.side} reaches no ${what} of the image.`, 'at', named.register === undefined ? 'byte' : 'register');
}

/** The same place as every window calls it; those that do not reach it are left out. */
export function sidePlacesOf(windows: readonly Window[], { byte, bit }: ImagePlace): SidePlace[] {
  return windows.flatMap((window): SidePlace[] => {
    const at = byte - window.byte;
    if (at < 0 || at >= window.bytes) return [];
    const { side, table, offset = 0 } = window;
    if (!table) return [{ side, window, byte: offset + at, word: (offset + at) >> 1, register: null, bit }];
    if (isBits(window)) return [{ side, window, byte: at, word: at >> 1, register: offset + 8 * at + (bit ?? 0), bit: null }];
    const isHigh = (at % 2 === 0) === (window.order === 'high-first');
    return [{ side, window, byte: at, word: at >> 1, register: offset + (at >> 1), bit: bit === null ? null : bit + (isHigh ? 8 : 0) }];
  });
}

function isBits({ table }: Window): boolean {
  return table !== undefined && isBitTable(table);
}

function byteIn({ table, offset = 0, byte, bytes }: Window, named: number): ImagePlace | null {
  const at = named - (table ? 0 : offset);
  return at >= 0 && at < bytes ? { byte: byte + at, bit: null } : null;
}

function registerIn(window: Window, register: number, bit: number | undefined): ImagePlace | null {
  const { table, offset = 0, byte, bytes, order } = window;
  if (!table) return null;
  const at = register - offset;
  if (isBits(window)) return at >= 0 && at < 8 * bytes ? { byte: byte + (at >> 3), bit: at & 7 } : null;
  if (at < 0 || 2 * at >= bytes) return null;
  const isHigh = bit !== undefined && bit >= 8;
  const second = bit !== undefined && isHigh !== (order === 'high-first');
  const inWindow = 2 * at + (second ? 1 : 0);
  return inWindow < bytes ? { byte: byte + inWindow, bit: null } : null;
}
