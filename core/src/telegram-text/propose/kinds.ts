import type { TelegramField } from '../../telegram/index.js';

const MOST_CODES = 8;

/** What the texts of one field are, by what all samples hold there. */
export function kindOfAll(raw: readonly string[]): Pick<TelegramField, 'kind' | 'codes' | 'padWith'> {
  const texts = raw.map((text) => text.trim());
  const all = (pattern: RegExp) => texts.every((text) => pattern.test(text));
  if (all(/^[+-]? *\d+$/)) {
    const numbers = texts.map(Number);
    const counts = numbers.length > 2 && numbers.every((number, index) => index === 0 || number === numbers[index - 1]! + 1);
    const zeros = raw.some((text) => /^0\d/.test(text)) ? { padWith: '0' } : {};
    return { kind: counts ? 'counter' : 'integer', ...zeros };
  }
  if (all(/^[+-]? *\d*[.,]\d+$/)) return { kind: 'decimal' };
  const isHex = all(/^[0-9A-F]+$/) && texts.some((text) => /[A-F]/.test(text)) && new Set(texts.map(({ length }) => length)).size === 1;
  if (isHex && texts[0]!.length > 1) return { kind: 'hex' };
  const distinct = [...new Set(texts)].sort((a, b) => a.localeCompare(b));
  if (all(/^[A-Za-z?!*]{1,2}$/) && distinct.length > 1 && distinct.length <= Math.min(MOST_CODES, texts.length - 1))
    return { kind: 'code', codes: Object.fromEntries(distinct.map((text) => [text, text])) };
  return { kind: 'text' };
}
