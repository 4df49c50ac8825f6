import { type BitType, iecNames } from './definition.js';

export const bit: BitType<'bit'> = {
  kind: 'bit',
  name: 'bit',
  width: 1,
  manuals: /^(bit|bool|boolean|binary|digital|on\/?off)$/,
  iec: iecNames('BOOL'),
  thing: { xsd: 'xsd:boolean', json: 'boolean' },
  tellTales: () => [
    { raw: 1, shows: 'on' },
    { raw: 0, shows: 'off' },
  ],
};
