import { iecNames } from './definition.js';
import { wide } from './whole.js';

export const int64 = wide({
  name: 'int64',
  width: 4,
  low: -(2n ** 63n),
  high: 2n ** 63n - 1n,
  guessCost: 2.2,
  manuals: /^(lint|int_?64|s_?64|i64|signed ?(64|64-?bit)|64-?bit signed|long ?long)$/,
  iec: iecNames('LINT'),
  thing: { xsd: 'xsd:long', json: 'integer' },
  get: (view) => view.getBigInt64(0),
  set: (view, raw) => view.setBigInt64(0, raw),
});
