import { bad, good, type Outcome } from '../outcome/index.js';

/** Binary-coded decimal: four digits a register, each in four bits. A digit above 9 is an error that names it. */
export function fromBcd(words: readonly number[]): Outcome<number> {
  const digits = words.map((word) => word.toString(16).padStart(4, '0')).join('');
  const wrong = [...digits].findIndex((digit) => digit > '9');
  if (wrong >= 0) {
    return bad(`Digit ${wrong + 1} from the left is ${digits[wrong]?.toUpperCase()}, which is no decimal digit.`, 'words');
  }
  return good(Number(digits));
}

export function toBcd(value: number, words: number): number[] {
  const digits = String(value).padStart(words * 4, '0');
  return Array.from({ length: words }, (_, word) => parseInt(digits.slice(word * 4, word * 4 + 4), 16));
}

/** Two registers of four decimal digits each: `[12, 3456]` is 123456. */
export function fromMod10(words: readonly number[]): Outcome<number> {
  const above = words.findIndex((word) => word > 9999);
  if (above >= 0) return bad(`Register ${above + 1} holds ${words[above]}; each may hold 0 to 9999 only.`, 'words');
  return good(words.reduce((sum, word) => sum * 10_000 + word, 0));
}

export function toMod10(value: number): number[] {
  return [Math.floor(value / 10_000), value % 10_000];
}
