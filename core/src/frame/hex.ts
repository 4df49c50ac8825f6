import { bad, good, type Outcome } from '../outcome/index.js';

/** `01 03 00 0A`: upper case, bytes separated by blanks. */
export function toHex(bytes: ArrayLike<number>): string {
  return Array.from(bytes, (byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');
}

/** Takes any spacing, commas, colons and dashes between bytes, and 0x before them. */
export function fromHex(text: string): Outcome<Uint8Array> {
  const groups = text
    .replace(/0x/gi, ' ')
    .split(/[\s,;:-]+/)
    .filter(Boolean);
  const digits = groups.map((group) => (group.length % 2 === 1 && groups.length > 1 ? `0${group}` : group)).join('');
  const wrong = digits.match(/[^0-9a-f]/i);
  if (wrong) return bad(`“${wrong[0]}” is no hex digit.`, 'hex');
  if (digits.length === 0) return bad('There is no byte here.', 'hex');
  if (digits.length % 2 === 1) return bad(`The number of hex digits is odd: the last, ${digits.at(-1)}, is half a byte.`, 'hex');
  return good(Uint8Array.from(digits.match(/../g) ?? [], (pair) => parseInt(pair, 16)));
}

/** `1 byte`, `7 bytes` */
export function bytesText(count: number): string {
  return count === 1 ? '1 byte' : `${count} bytes`;
}
