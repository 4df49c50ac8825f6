import type { Table } from '../address/index.js';
import type { Point } from '../model/index.js';
import type { ByteOrder } from '../value/index.js';
import { type PointType, readManualName } from '../types/index.js';

/** A type as manuals write it, with the order where it is written beside it. */
export interface TypeWord {
  type: PointType;
  order?: ByteOrder;
  /** Registers, for text and bits. */
  length?: number;
}

const orderWords: [RegExp, ByteOrder][] = [
  [/\b(abcd|abcdefgh|big.?endian|be|msw.?first|high.?word.?first|hi.?lo|1-?0)\b/, 'ABCD'],
  [/\b(badc|badcfehg|byte.?swap(ped)?|swapped.?bytes)\b/, 'BADC'],
  [/\b(dcba|hgfedcba|little.?endian|le)\b/, 'DCBA'],
  [/\b(cdab|ghefcdab|word.?swap(ped)?|swapped|lsw.?first|low.?word.?first|lo.?hi|mid.?little)\b/, 'CDAB'],
];

const tableWords: [RegExp, Table][] = [
  [/^(coils?|0x|do|digital outputs?|0?1|0?5|fc ?0?1|15|outputs?|spule|ausg[aä]nge?)$/, 'coil'],
  [/^(discretes?|discrete inputs?|1x|di|digital inputs?|0?2|fc ?0?2|status inputs?|contacts?)$/, 'discrete'],
  [/^(inputs?|input registers?|3x|ir|ai|0?4|fc ?0?4|eingangsregister)$/, 'input'],
  [/^(holdings?|holding registers?|4x|hr|ao|0?3|0?6|16|fc ?0?3|registers?|halteregister)$/, 'holding'],
];

/** What we write for access ourselves; `accessOf` reads it back. */
export const accessNames: Record<Point['access'], string> = { read: 'read', write: 'write', readWrite: 'read/write' };

const accessWords: [RegExp, Point['access']][] = [
  [/^(rw|r\/w|r ?\+ ?w|read ?\/? ?(and )?write|readwrite|wr|w\/r|lesen ?\/? ?schreiben|rd\/wr|set ?\/? ?get|r, ?w)$/, 'readWrite'],
  [/^(r|ro|r\/o|read|read.?only|rd|lesen|get|input)$/, 'read'],
  [/^(w|wo|w\/o|write|write.?only|schreiben|set|output)$/, 'write'],
];

export function readOrder(text: string): ByteOrder | null {
  return find(orderWords, text);
}

/** `uint32`, `FLOAT CDAB`, `REAL (low word first)`, `string[16]`, where the number counts characters. */
export function readType(text: string): TypeWord | null {
  const typed = text.trim().toLowerCase();
  const order = readOrder(typed) ?? undefined;
  const plain = typed
    .replace(/\(.*?\)/g, ' ')
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

export function readTable(text: string): Table | null {
  // Several function codes of one table may be named: 03/06/16.
  const first = text
    .trim()
    .toLowerCase()
    .replace(/^f(unction|c)?\s*(code)?\s*/, '')
    .split(/[,/+ ]+(?=\d)/)[0]!;
  return find(tableWords, first.replace(/_/g, ' '));
}

export function readAccess(text: string): Point['access'] | null {
  return find(accessWords, text.replace(/[()]/g, ''));
}

const UNIT =
  /^(°|º)?[cfk]$|^%|^(k|m|µ|u|M|G)?(v|a|w|wh|va|var|varh|vah|hz|pa|bar|ohm|Ω|j|n|g|m|s|l|h|min|kg|t|rpm|m3|m³|bar|ppm|lx|db|psi|deg|nm|inch|in|ft|gal)(\/(s|h|min|m|m3|m³|kg|l))?$|^(l|m3|m³|kg|t)\/(h|min|s)$|^1?\/min$|^days?$|^cos/i;

export function looksLikeUnit(text: string): boolean {
  return text.length <= 12 && UNIT.test(text.trim());
}

function find<T>(words: readonly (readonly [RegExp, T])[], text: string): T | null {
  const typed = text.trim().toLowerCase();
  return words.find(([pattern]) => pattern.test(typed))?.[1] ?? null;
}
