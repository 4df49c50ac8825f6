import { identifiersOf, isFrameOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const outsideWhole = defineCheck({
  id: 'outside-whole',
  severity: 'warning',
  scope: 'frames',
  meaning: 'No frame that is known of the line goes through where frames are passed whole.',
  find: ({ frames }) =>
    frames.flatMap((frame) => {
      const alike = frames.filter(({ whole, direction }) => !whole && direction === frame.direction);
      if (!frame.whole || alike.length === 0 || alike.some((one) => isFrameOf(frame, one))) return [];
      return {
        message: `${frame.deviceName}: ${frame.name} passes frames with identifiers ${identifiersOf(frame)}, of ${frame.identifierBits} bits, and of those of the line none is among them: ${alike.map((one) => `${one.name} ${identifiersOf(one)}`).join(', ')}.`,
        mend: 'See that identifier, mask and number of bits are those of the papers.',
        at: { entity: 'frame' as const, id: frame.id, field: 'identifier' },
      };
    }),
});
