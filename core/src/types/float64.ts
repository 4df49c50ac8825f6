import { iecNames } from './definition.js';
import { float } from './float.js';

export const float64 = float({
  name: 'float64',
  width: 4,
  limit: Number.MAX_VALUE,
  digits: 12,
  guessCost: 1,
  manuals: /^(double|lreal|float_?64|fp64|f64)$/,
  iec: iecNames('LREAL'),
  thing: { xsd: 'xsd:double', json: 'number' },
  get: (view) => view.getFloat64(0),
  set: (view, raw) => view.setFloat64(0, raw),
});
