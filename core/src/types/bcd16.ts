import { decimalDigits, fromBcd, toBcd } from './digits.js';

export const bcd16 = decimalDigits({
  name: 'bcd16',
  width: 1,
  high: 9999,
  manuals: /^(bcd|bcd_?16|bcd4)$/,
  read: fromBcd,
  write: (raw) => toBcd(raw, 1),
});
