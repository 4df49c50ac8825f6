import { orderOf, placeFar } from '../../placing/index.js';
import { defineCheck, fixOf } from '../../findings/index.js';

export const outsideWindows = defineCheck({
  id: 'outside-windows',
  severity: 'stop',
  scope: 'converter',
  doubts: true,
  meaning: 'A value of a device behind a converter lies at registers that do not show what its line writes.',
  find: ({ converter, far, document, sideOf }) =>
    converter.image === null
      ? []
      : far.flatMap((point) => {
          if (orderOf(document, point) !== null) return [];
          const placed = placeFar(document, point.deviceId, [point]);
          const here = { entity: 'point' as const, id: point.id, field: 'offset' };
          if (!placed.ok)
            return {
              message: `${placed.problem.message}`,
              mend: 'Make room for it in the image, or say which bytes are for its line.',
              at: here,
            };
          const { table, offset, bit, order, access } = placed.value[0]!;
          return {
            message: `${point.name} lies at offset ${point.offset} of ${converter.name}, which shows no bytes that ${sideOf(point)} has to do with in that way.`,
            mend: `Place it where they are: at offset ${offset}.`,
            fix: fixOf(`Place it at offset ${offset}`, 'point', point, { table, offset, bit, order, access }),
            at: here,
          };
        }),
});
