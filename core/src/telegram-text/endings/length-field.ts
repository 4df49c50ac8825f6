import { LONGEST } from '../../telegram/index.js';
import type { Ahead, Cut, Ending } from '../stream.js';
import type { LengthField } from '../../telegram/index.js';

/** It says itself how long it is, in a field that is always at the same place. */
export function byLengthField({ from: at, length, written, adds }: LengthField): Ending {
  return {
    cut({ bytes, from, silenceAt }: Ahead): Cut {
      const headTo = from + at + length;
      if (bytes.length < headTo) return { kind: 'more' };
      const said = valueOf(bytes.subarray(from + at, headTo), written);
      const whole = said === null ? Number.NaN : said + adds;
      if (!(whole >= at + length && whole <= LONGEST)) return { kind: 'none', why: 'what should be its length is none' };
      if (silenceAt !== null && silenceAt > 0 && silenceAt < from + whole)
        return { kind: 'none', why: `nothing more came after ${silenceAt - from} of ${whole} bytes`, skip: silenceAt };
      return bytes.length < from + whole ? { kind: 'more' } : { kind: 'telegram', textTo: from + whole, next: from + whole };
    },
  };
}

function valueOf(bytes: Uint8Array, written: LengthField['written']): number | null {
  if (written === 'raw') return bytes.reduce((sum, byte) => sum * 256 + byte, 0);
  const text = String.fromCharCode(...bytes).trim();
  if (!(written === 'hex' ? /^[0-9a-f]+$/i : /^\d+$/).test(text)) return null;
  return parseInt(text, written === 'hex' ? 16 : 10);
}
