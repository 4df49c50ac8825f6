import { bad, good, type Outcome } from '../outcome/index.js';
import type { Encoding } from '../types/index.js';

const LAST = { ascii: 127, latin1: 255 } as const;

/** Bytes of a telegram as text. A byte that the encoding does not have stands for itself where characters are bytes, else for U+FFFD. */
export function textOf(bytes: Uint8Array, encoding: Encoding): string {
  if (encoding === 'utf-8') return new TextDecoder('utf-8').decode(bytes);
  let text = '';
  for (let at = 0; at < bytes.length; at += 4096) text += String.fromCharCode(...bytes.subarray(at, at + 4096));
  return text;
}

/** How many bytes so many of the first characters take. */
export function encodedLength(bytes: Uint8Array, encoding: Encoding, characters: number): number {
  if (encoding !== 'utf-8') return characters;
  return bytesAsTheyCame(textOf(bytes, encoding).slice(0, characters), encoding).length;
}

/** The bytes of a text; a problem where the encoding has no such character. */
export function bytesOfText(text: string, encoding: Encoding): Outcome<Uint8Array> {
  if (encoding === 'utf-8') return good(new TextEncoder().encode(text));
  const outside = [...text].find((character) => character.codePointAt(0)! > LAST[encoding]);
  if (outside !== undefined) return bad(`${encoding === 'ascii' ? 'ASCII' : 'Latin 1'} has no “${outside}”.`);
  return good(Uint8Array.from(text, (character) => character.charCodeAt(0)));
}

/** The same for text that came as bytes: characters up to 255 are bytes, whatever the encoding has. */
export function bytesAsTheyCame(text: string, encoding: Encoding): Uint8Array {
  return encoding === 'utf-8' ? new TextEncoder().encode(text) : Uint8Array.from(text, (character) => character.charCodeAt(0) & 0xff);
}

/** What is wrong with text that came in this encoding; null where nothing is. */
export function encodingProblem(text: string, encoding: Encoding, isRaw: (at: number) => boolean): string | null {
  const isOutside = (at: number) => (encoding === 'utf-8' ? text[at] === '\ufffd' : text.charCodeAt(at) > LAST[encoding]);
  for (let at = 0; at < text.length; at++) {
    if (!isOutside(at) || isRaw(at)) continue;
    if (encoding === 'utf-8') return `Character ${at} is no UTF-8.`;
    const byte = text.charCodeAt(at).toString(16).toUpperCase();
    return `Character ${at} is byte ${byte}, which ASCII does not have: Latin 1 may be meant, or the parity is read as an eighth bit.`;
  }
  return null;
}

/** Control characters by their names: `12 kg<CR>`. */
export function visible(text: string): string {
  return text.replace(CONTROL, (character) => `<${controlNames[character.charCodeAt(0)] ?? 'DEL'}>`);
}

/**
 * Bytes as a person types them: characters up to 255 as they are, control characters by name or any byte by its two hex figures in
 * angle brackets. Example: `W<CR>` and `W<0D>` are 57 0D. What stands in brackets and is neither is typed as it is.
 */
export function typedBytes(text: string): Outcome<Uint8Array> {
  const bytes: number[] = [];
  for (const [part, inside] of text.matchAll(/<([A-Za-z0-9]{2,3})>|[\s\S]/gu)) {
    const named = inside === undefined ? null : codeOf(inside);
    if (named !== null) bytes.push(named);
    else
      for (const character of part) {
        const code = character.codePointAt(0)!;
        if (code > 255) return bad(`“${character}” is no single byte; type its bytes in hex, as <C3><A9>.`);
        bytes.push(code);
      }
  }
  return good(Uint8Array.from(bytes));
}

function codeOf(inside: string): number | null {
  const name = inside.toUpperCase();
  const at = controlNames.indexOf(name);
  if (at >= 0) return at;
  if (name === 'DEL') return 127;
  return /^[0-9A-F]{2}$/.test(name) ? parseInt(name, 16) : null;
}

// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u001f\u007f]/g;
const controlNames =
  'NUL SOH STX ETX EOT ENQ ACK BEL BS HT LF VT FF CR SO SI DLE DC1 DC2 DC3 DC4 NAK SYN ETB CAN EM SUB ESC FS GS RS US'.split(' ');
