import { iecNames } from './definition.js';
import { whole } from './whole.js';

export const uint32 = whole({
  name: 'uint32',
  width: 2,
  low: 0,
  high: 0xffff_ffff,
  guessCost: 0.5,
  manuals: /^(udint|uint_?32|u_?32|ulong|dword|unsigned ?(32|long|dword|32-?bit)|32-?bit unsigned)$/,
  iec: iecNames('UDINT'),
  thing: { xsd: 'xsd:unsignedInt', json: 'integer' },
  get: (view) => view.getUint32(0),
  set: (view, raw) => view.setUint32(0, raw),
});
