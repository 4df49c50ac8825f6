/** The bytes that are written as pairs of hex digits, spaces between them or not. Throws where they are none. */
export function bytesOf(hex: string): Uint8Array {
  const digits = hex.replace(/\s/g, '');
  if (digits.length % 2 === 1 || /[^0-9A-F]/i.test(digits)) throw new Error(`“${hex}” is no pairs of hex digits.`);
  return Uint8Array.from(digits.match(/../g) ?? [], (pair) => parseInt(pair, 16));
}
