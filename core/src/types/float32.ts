import { iecNames } from './definition.js';
import { float } from './float.js';

export const float32 = float({
  name: 'float32',
  width: 2,
  limit: 3.4028234663852886e38,
  digits: 6,
  guessCost: 0,
  manuals: /^(float|real|float_?32|fp32|f32|single|ieee-?754|float ?4|floating ?point|flt|gleitkomma)$/,
  iec: iecNames('REAL'),
  thing: { xsd: 'xsd:float', json: 'number' },
  get: (view) => view.getFloat32(0),
  set: (view, raw) => view.setFloat32(0, raw),
});
