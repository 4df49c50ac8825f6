import { defineCheck } from '../../findings/index.js';

export const noImage = defineCheck({
  id: 'no-image',
  severity: 'stop',
  scope: 'converter',
  meaning: 'A converter is to carry values of devices that speak no Modbus, and nothing is said of its image.',
  find: ({ converter, far }) =>
    converter.image === null && far.length > 0
      ? [
          {
            message: `${converter.name} is to carry ${far.length === 1 ? far[0]!.name : `${far.length} values`}, and it is not said how large its image is and what each side sees of it.`,
            mend: 'Say so on Registers, under Image; its manual has it.',
            at: { entity: 'device', id: converter.id, field: 'image' },
          },
        ]
      : [],
});
