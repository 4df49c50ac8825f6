import { isFrameOf, periodOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const recordsOverrun = defineCheck({
  id: 'records-overrun',
  severity: 'warning',
  scope: 'frames',
  meaning: 'More frames come between two readings than have room where they are passed whole.',
  find: ({ frames, document }) =>
    frames.flatMap((frame) => {
      const { whole } = frame;
      if (!whole || frame.direction !== 'sent') return [];
      const own = new Set(frame.points.flatMap(({ id, place }) => (place.kind === 'record' ? [id] : [])));
      const readBy = new Set(document.routes.flatMap(({ sourceId, roundId }) => (own.has(sourceId) ? [roundId] : [])));
      const everyMs = Math.max(...document.rounds.flatMap(({ id, periodMs }) => (readBy.has(id) ? [periodMs] : [])));
      const coming = frames.filter((one) => !one.whole && one.direction === 'sent' && isFrameOf(frame, one));
      const count = coming.reduce((sum, one) => sum + Math.ceil(everyMs / (periodOf(one) ?? Infinity)), 0);
      if (!Number.isFinite(everyMs) || count <= whole.records) return [];
      const names = coming.map(({ name }) => name).join(', ');
      return {
        message: `${frame.deviceName}: ${frame.name} keeps ${whole.records === 1 ? 'one frame' : `${whole.records} frames`}, and is read every ${everyMs} ms: in that time ${count} come (${names}), so that some are overwritten unread.`,
        mend: `Keep at least ${count}, read more often, or let fewer identifiers through.`,
        about: coming.map(({ id }) => id),
        at: { entity: 'frame' as const, id: frame.id, field: 'whole' },
      };
    }),
});
