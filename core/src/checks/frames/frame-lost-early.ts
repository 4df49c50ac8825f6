import { periodOf } from '../../can-line/index.js';
import { defineCheck, fixOf } from '../../findings/index.js';

export const frameLostEarly = defineCheck({
  id: 'frame-lost-early',
  severity: 'warning',
  scope: 'frames',
  meaning: 'A frame counts as lost before the next one can come.',
  find: ({ frames, document }) =>
    frames.flatMap((frame) => {
      const everyMs = periodOf(frame);
      if (frame.direction !== 'sent' || everyMs === null || frame.lostAfterMs > 1.5 * everyMs) return [];
      const own = document.frames.find(({ id }) => id === frame.id)!;
      return {
        message: `${frame.deviceName}: ${frame.name} comes every ${everyMs} ms and counts as lost after ${frame.lostAfterMs} ms, so one that is late makes its values bad.`,
        mend: `Wait for three of them: ${3 * everyMs} ms.`,
        fix: fixOf(`Lost after ${3 * everyMs} ms`, 'frame', own, { lostAfterMs: 3 * everyMs }),
        at: { entity: 'frame' as const, id: frame.id, field: 'lostAfterMs' },
      };
    }),
});
