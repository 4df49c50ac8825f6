/** Bytes as people paste them: hex pairs with blanks, commas, line ends or 0x before them. Null where something else is between. */
export function bytesOfText(text: string): Uint8Array | null {
  const digits = text.replace(/0x/gi, '').replace(/[\s,;:-]/g, '');
  if (digits.length === 0 || digits.length % 2 || /[^0-9a-f]/i.test(digits)) return null;
  return Uint8Array.from(digits.match(/../g)!, (pair) => parseInt(pair, 16));
}
