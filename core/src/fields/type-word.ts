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
  const named = readManualName(plain) ?? told(plain);
  if (!named) return null;
  return { type: named.type, ...(named.width === null ? {} : { length: named.width }), ...(order ? { order } : {}) };
}

/** What other languages call the parts of a type. */
const inEnglish: [RegExp, string][] = [
  [/ohne vorzeichen|vorzeichenlos(?:e[rs]?)?|non sign[eé]e?|sin signo|senza segno|unsign\.?/g, 'unsigned'],
  [/mit vorzeichen|vorzeichenbehaftet(?:e[rs]?)?|sign[eé]e?|con signo|con segno/g, 'signed'],
  [/ganzzahl(?:ig)?|entiere?|enteros?|inter[oi]|integer/g, 'int'],
  [
    /gleitkomma(?:zahl)?|flie[sß]+komma(?:zahl)?|virgule flottante|flottante?|r[eé]el|coma flotante|flotante|virgola mobile|reale|floating point|ieee ?754/g,
    'float',
  ],
  [/zeichenkette|cha[iî]ne(?: de caract[eè]res)?|cadena(?: de caracteres)?|stringa|texte|texto|testo/g, 'string'],
  [
    /bitfeld|bitmaske|champ de bits|campo de bits|campo di bit|statuswort|zustandswort|mot d['’][eé]tat|palabra de estado|parola di stato/g,
    'bitfield',
  ],
  [/bool[eé]en|booleano|bin[aä]r|binaire|binario|logisch/g, 'bool'],
  [/doppelwort|mot double|doble palabra|doppia parola/g, 'dword'],
  [/\bmot\b|\bpalabra\b|\bparola\b|\bwort\b/g, 'word'],
];

/** A type that is described rather than named, in one of five languages: “Ganzzahl ohne Vorzeichen, 32 Bit”. */
function told(text: string): ReturnType<typeof readManualName> {
  const english = inEnglish.reduce((words, [pattern, word]) => words.replace(pattern, word), text);
  const bits = /\b(?:u?int|i|u|s|f|float)?_?(8|16|32|64)\b/.exec(english)?.[1];
  const isUnsigned = /unsigned|\buint|\bu(?:8|16|32|64)\b/.test(english);
  if (/\bfloat|\breal\b|\bdouble\b/.test(english)) return readManualName(bits === '64' || /double/.test(english) ? 'float64' : 'float32');
  if (/\bstring\b/.test(english)) return readManualName('string');
  if (/\bbit ?field\b|\bbit ?mask\b|\bflags\b/.test(english)) return readManualName('bitfield');
  if (/\bbool\b/.test(english)) return readManualName('bool');
  if (/\bdword\b/.test(english)) return readManualName(isUnsigned || !/\bsigned/.test(english) ? 'uint32' : 'int32');
  if (!/\bu?int|signed|\bword\b|\b\d+ ?-?bits?\b/.test(english)) return null;
  const wide = bits === '32' || bits === '64' ? bits : '16';
  const isSigned = !isUnsigned && /\bint|signed/.test(english);
  return readManualName(`${isSigned ? 'int' : 'uint'}${wide}`);
}
