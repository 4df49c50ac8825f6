import * as z from 'zod';
import { bad, good, type Outcome } from '../outcome/index.js';

export const Encoding = z.enum(['ascii', 'latin1', 'utf-8']);
export type Encoding = z.infer<typeof Encoding>;

/** How registers hold text; `width` is in registers, as many as the text takes where it is left out. */
export interface RegisterText {
  readText(words: readonly number[], encoding: Encoding): Outcome<string>;
  writeText(text: string, encoding: Encoding, width?: number): Outcome<number[]>;
}

/** Text in registers: two characters each, the first in the high byte; filled up with NUL, which reading drops. */
export function textFromWords(words: readonly number[], encoding: Encoding): Outcome<string> {
  const bytes = Uint8Array.from(words.flatMap((word) => [word >>> 8, word & 0xff]));
  const end = bytes.indexOf(0);
  const used = end < 0 ? bytes : bytes.subarray(0, end);
  if (encoding === 'utf-8') {
    try {
      return good(new TextDecoder('utf-8', { fatal: true }).decode(used));
    } catch {
      return bad('These bytes are no UTF-8 text.', 'words');
    }
  }
  const high = used.findIndex((byte) => byte > 127);
  if (encoding === 'ascii' && high >= 0) {
    return bad(`Byte ${high + 1} is ${used[high]}, which ASCII does not have; latin1 may be meant.`, 'words');
  }
  return good(String.fromCharCode(...used));
}

export function wordsFromText(text: string, encoding: Encoding, length?: number): Outcome<number[]> {
  const bytes = bytesOf(text, encoding);
  if (!bytes.ok) return bytes;
  const words = length ?? Math.max(1, Math.ceil(bytes.value.length / 2));
  if (bytes.value.length > words * 2) {
    return bad(`The text takes ${bytes.value.length} bytes; ${words} register${words === 1 ? '' : 's'} hold ${words * 2}.`, 'value');
  }
  const at = (index: number) => bytes.value[index] ?? 0;
  return good(Array.from({ length: words }, (_, word) => (at(2 * word) << 8) | at(2 * word + 1)));
}

function bytesOf(text: string, encoding: Encoding): Outcome<number[]> {
  if (encoding === 'utf-8') return good([...new TextEncoder().encode(text)]);
  const last = encoding === 'ascii' ? 127 : 255;
  const codes = [...text].map((character) => character.codePointAt(0) ?? 0);
  const outside = codes.findIndex((code) => code > last);
  if (outside >= 0) return bad(`${encoding} has no “${[...text][outside]}”.`, 'value');
  return good(codes);
}
