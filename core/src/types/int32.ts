import { iecNames } from './definition.js';
import { whole } from './whole.js';

export const int32 = whole({
  name: 'int32',
  width: 2,
  low: -0x8000_0000,
  high: 0x7fff_ffff,
  guessCost: 0.7,
  manuals: /^(dint|int_?32|s_?32|sint_?32|i32|long|signed ?(32|long|dword|32-?bit)|32-?bit signed)$/,
  iec: iecNames('DINT'),
  thing: { xsd: 'xsd:int', json: 'integer' },
  get: (view) => view.getInt32(0),
  set: (view, raw) => view.setInt32(0, raw),
});
