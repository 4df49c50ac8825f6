import { type PointType, readManualName } from '../types/index.js';
import type { ByteOrder } from '../value/index.js';
import { readOrder } from './order-word.js';

/** A type as manuals write it, with the order where it is written beside it. */
export interface TypeWord {
  type: PointType;
  order?: ByteOrder;
  /** Registers, for text and bits. */
  length?: number;
}

/** `uint32`, `FLOAT CDAB`, `REAL (low word first)`, `string[16]`, where the number counts characters. */
export function readType(text: string): TypeWord | null {
  const typed = text.trim().toLowerCase();
  const order = readOrder(typed) ?? undefined;
  const plain = typed
    .replace(/\([^()]*\)/g, ' ')
    .replace(
      /\b(abcd|cdab|badc|dcba|abcdefgh|ghefcdab|badcfehg|hgfedcba|(big|little).?endian|(msw|lsw|high.?word|low.?word).?first|(word|byte).?swap(ped)?|swapped|be|le)\b/g,
      ' ',
    )
    .replace(/[,;]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const named = readManualName(plain);
  if (!named) return null;
  return { type: named.type, ...(named.width === null ? {} : { length: named.width }), ...(order ? { order } : {}) };
}
