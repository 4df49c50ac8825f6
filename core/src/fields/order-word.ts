import type { ByteOrder } from '../value/index.js';
import { firstFitting } from './definition.js';

const words: [RegExp, ByteOrder][] = [
  [/\b(abcd|abcdefgh|big.?endian|be|msw.?first|high.?word.?first|hi.?lo|1-?0)\b/, 'ABCD'],
  [/\b(badc|badcfehg|byte.?swap(ped)?|swapped.?bytes)\b/, 'BADC'],
  [/\b(dcba|hgfedcba|little.?endian|le)\b/, 'DCBA'],
  [/\b(cdab|ghefcdab|word.?swap(ped)?|swapped|lsw.?first|low.?word.?first|lo.?hi|mid.?little)\b/, 'CDAB'],
];

/** A byte order as manuals write it. */
export function readOrder(text: string): ByteOrder | null {
  return firstFitting(words, text);
}
