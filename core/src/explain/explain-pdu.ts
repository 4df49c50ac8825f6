import { type Direction, type FrameField, toHex } from '../frame/index.js';
import { explainParts } from './pdu-parts.js';

export interface ExplainedPdu {
  fields: FrameField[];
  problems: string[];
  sentence: string;
}

/**
 * Explains a PDU that starts at position `at` of its frame, where each byte takes `step` positions (two in ASCII).
 * Without a direction the one that its length fits is taken; a request where both fit.
 */
export function explainPdu(pdu: Uint8Array, at: number, direction: Direction | undefined, step: number): ExplainedPdu {
  const code = pdu[0];
  if (code === undefined) return { fields: [], problems: ['There is no function code.'], sentence: 'is named, and nothing more.' };
  const { parts, problems, sentence } = explainParts(pdu, code, direction);
  const covered = parts.reduce((most, [, from, bytes]) => Math.max(most, from + bytes), 0);
  if (covered < pdu.length) parts.push(['leftover', covered, pdu.length - covered, 'belongs to no field']);
  const fields = parts
    .filter(([, from, bytes]) => bytes > 0 && from < pdu.length)
    .map(([name, from, bytes, meaning]) => {
      const end = Math.min(from + bytes, pdu.length);
      const shown = step === 1 ? toHex(pdu.subarray(from, end)) : toHex(asciiOf(pdu.subarray(from, end)));
      const isWhole = end === from + bytes;
      return { name, from: at + from * step, to: at + end * step - 1, hex: shown, meaning: isWhole ? meaning : 'cut short' };
    });
  return { fields, problems, sentence };
}

function asciiOf(bytes: Uint8Array): number[] {
  return [...toHex(bytes).replaceAll(' ', '')].map((character) => character.charCodeAt(0));
}
