import { iecNames } from './definition.js';
import { wide } from './whole.js';

export const uint64 = wide({
  name: 'uint64',
  width: 4,
  low: 0n,
  high: 2n ** 64n - 1n,
  guessCost: 2,
  manuals: /^(ulint|uint_?64|u_?64|lword|qword|unsigned ?(64|64-?bit)|64-?bit unsigned)$/,
  iec: iecNames('ULINT'),
  thing: { xsd: 'xsd:unsignedLong', json: 'integer' },
  get: (view) => view.getBigUint64(0),
  set: (view, raw) => view.setBigUint64(0, raw),
});
