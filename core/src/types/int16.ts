import { iecNames } from './definition.js';
import { whole } from './whole.js';

export const int16 = whole({
  name: 'int16',
  width: 1,
  low: -0x8000,
  high: 0x7fff,
  guessCost: 0.2,
  manuals: /^(int|int_?16|s_?16|sint_?16|i16|short|signed|signed ?(16|int|short|word|16-?bit)|16-?bit signed)$/,
  iec: iecNames('INT', 'SINT'),
  thing: { xsd: 'xsd:short', json: 'integer' },
  get: (view) => view.getInt16(0),
  set: (view, raw) => view.setInt16(0, raw),
});
