import { decimalDigits, fromBcd, toBcd } from './digits.js';

export const bcd32 = decimalDigits({
  name: 'bcd32',
  width: 2,
  high: 99_999_999,
  manuals: /^(bcd_?32|bcd8)$/,
  read: fromBcd,
  write: (raw) => toBcd(raw, 2),
});
