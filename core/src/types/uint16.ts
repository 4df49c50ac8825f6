import { iecNames } from './definition.js';
import { whole } from './whole.js';

export const uint16 = whole({
  name: 'uint16',
  width: 1,
  low: 0,
  high: 0xffff,
  guessCost: 0,
  manuals: /^(uint|uint_?16|u_?16|ushort|unsigned|unsigned ?(16|int|short|word|16-?bit)|16-?bit unsigned|word|byte|usint|enum)$/,
  iec: iecNames('UINT', 'USINT', 'BYTE'),
  thing: { xsd: 'xsd:unsignedShort', json: 'integer' },
  get: (view) => view.getUint16(0),
  set: (view, raw) => view.setUint16(0, raw),
});
