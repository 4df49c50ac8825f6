import type { Table } from '../address/index.js';
import type { Point, PointType } from '../model/index.js';
import type { ByteOrder } from '../value/index.js';

/** What manuals write for types, orders, tables and access, as our own words. Null where a text is none of them. */
export interface TypeWord {
  type: PointType;
  order?: ByteOrder;
  /** Registers, for text. */
  length?: number;
}

const typeWords: [RegExp, PointType][] = [
  [/^(bit|bool|boolean|binary|digital|on\/?off)$/, 'bit'],
  [/^(float|real|float_?32|fp32|f32|single|ieee-?754|float ?4|floating ?point|flt|gleitkomma)$/, 'float32'],
  [/^(double|lreal|float_?64|fp64|f64)$/, 'float64'],
  [/^(int|int_?16|s_?16|sint_?16|i16|short|signed|signed ?(16|int|short|word|16-?bit)|16-?bit signed)$/, 'int16'],
  [/^(uint|uint_?16|u_?16|ushort|unsigned|unsigned ?(16|int|short|word|16-?bit)|16-?bit unsigned|word|byte|usint|enum)$/, 'uint16'],
  [/^(dint|int_?32|s_?32|sint_?32|i32|long|signed ?(32|long|dword|32-?bit)|32-?bit signed)$/, 'int32'],
  [/^(udint|uint_?32|u_?32|ulong|dword|unsigned ?(32|long|dword|32-?bit)|32-?bit unsigned)$/, 'uint32'],
  [/^(lint|int_?64|s_?64|i64|signed ?(64|64-?bit)|64-?bit signed|long ?long)$/, 'int64'],
  [/^(ulint|uint_?64|u_?64|lword|qword|unsigned ?(64|64-?bit)|64-?bit unsigned)$/, 'uint64'],
  [/^(bcd|bcd_?16|bcd4)$/, 'bcd16'],
  [/^(bcd_?32|bcd8)$/, 'bcd32'],
  [/^(mod10|mod10-32|mod-?10 ?32)$/, 'mod10-32'],
  [/^(string|char|ascii|text|str|utf-?8)$/, 'string'],
  [/^(bits|bitfield|bit ?field|bitmap|bit ?map|bit ?mask|flags|bitstring|bit ?string|status ?word)$/, 'bits'],
];

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

export function orderOf(text: string): ByteOrder | null {
  return find(orderWords, text);
}

/** `uint32`, `FLOAT CDAB`, `REAL (low word first)`, `string[16]`, where the number counts characters. */
export function typeOf(text: string): TypeWord | null {
  const typed = text.trim().toLowerCase();
  const order = orderOf(typed) ?? undefined;
  const plain = typed
    .replace(/\(.*?\)/g, ' ')
    .replace(
      /\b(abcd|cdab|badc|dcba|abcdefgh|ghefcdab|badcfehg|hgfedcba|(big|little).?endian|(msw|lsw|high.?word|low.?word).?first|(word|byte).?swap(ped)?|swapped|be|le)\b/g,
      ' ',
    )
    .replace(/[,;]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const sized = /^(string|char|text|ascii|str)\s*\[?\s*(\d+)\s*\]?$/.exec(plain);
  if (sized) return { type: 'string', length: Math.ceil(Number(sized[2]) / 2), ...(order ? { order } : {}) };
  const bits = /^bits\s*\[?\s*(\d+)\s*\]?$/.exec(plain);
  if (bits) return { type: 'bits', length: Math.ceil(Number(bits[1]) / 16), ...(order ? { order } : {}) };
  const type = find(typeWords, plain);
  return type ? { type, ...(order ? { order } : {}) } : null;
}

export function tableOf(text: string): Table | null {
  // Several function codes of one table may be named: 03/06/16.
  const first = text
    .trim()
    .toLowerCase()
    .replace(/^f(unction|c)?\s*(code)?\s*/, '')
    .split(/[,/+ ]+(?=\d)/)[0]!;
  return find(tableWords, first.replace(/_/g, ' '));
}

export function accessOf(text: string): Point['access'] | null {
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
