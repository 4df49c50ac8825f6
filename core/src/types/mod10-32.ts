import { bad, good, type Outcome } from '../outcome/index.js';
import { decimalDigits } from './digits.js';

/** Two registers of four decimal digits each: `[12, 3456]` is 123456. */
export const mod10of32 = decimalDigits({
  name: 'mod10-32',
  width: 2,
  high: 99_999_999,
  manuals: /^(mod10|mod10-32|mod-?10 ?32)$/,
  read,
  write: (raw) => [Math.floor(raw / 10_000), raw % 10_000],
});

function read(words: readonly number[]): Outcome<number> {
  const above = words.findIndex((word) => word > 9999);
  if (above >= 0) return bad(`Register ${above + 1} holds ${words[above]}; each may hold 0 to 9999 only.`, 'words');
  return good(words.reduce((sum, word) => sum * 10_000 + word, 0));
}
