import { arbitrate, hexIdentifier } from '../../can/index.js';
import { defineCheck } from '../../findings/index.js';

export const identifierTwice = defineCheck({
  id: 'identifier-twice',
  severity: 'stop',
  scope: 'frames',
  doubts: true,
  meaning: 'Two frames on one CAN bus have the same identifier.',
  find: ({ line, frames }) =>
    frames.flatMap((frame, index) => {
      const other = frames.slice(0, index).find((one) => !one.whole && arbitrate(one, frame) === 0);
      if (!other || frame.whole) return [];
      return {
        message: `${other.deviceName}, ${other.name}, and ${frame.deviceName}, ${frame.name}, both have identifier ${hexIdentifier(frame)} on ${line.name}: they destroy each other where both are sent at once, and nobody can tell them apart.`,
        mend: 'Give each an identifier of its own, as the devices have them.',
        about: [other.id],
        at: { entity: 'frame' as const, id: frame.id, field: 'identifier' },
      };
    }),
});
