import { periodOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const frameLate = defineCheck({
  id: 'frame-late',
  severity: 'warning',
  scope: 'frames',
  meaning: 'A frame can be on its way for longer than its period, so that one overtakes another or is left out.',
  find: ({ line, frames, time }) =>
    frames.flatMap((frame) => {
      const everyMs = periodOf(frame);
      const own = time.frames.find(({ id }) => id === frame.id);
      if (everyMs === null || !own || (own.worstResponseMs !== null && own.worstResponseMs <= everyMs)) return [];
      const late = own.worstResponseMs === null ? 'may never come' : `comes up to ${own.worstResponseMs.toFixed(1)} ms after it is due`;
      return {
        message: `${frame.deviceName}: ${frame.name} ${late} on ${line.name}, and is due every ${everyMs} ms: frames with lower identifiers go first.`,
        mend: 'Give it a lower identifier where its device lets you, or send those before it less often.',
        at: { entity: 'frame' as const, id: frame.id, field: 'when' },
      };
    }),
});
