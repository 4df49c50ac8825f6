import { identifiersOf, isFrameOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const madeByController = defineCheck({
  id: 'made-by-controller',
  severity: 'stop',
  scope: 'frames',
  doubts: true,
  meaning: 'A value is carried to a frame that the converter does not make, because the controller sends such frames whole.',
  find: ({ frames, document }) =>
    frames.flatMap((frame) => {
      const whole = frames.find((one) => one.whole && one.direction === 'taken' && isFrameOf(one, frame));
      if (!whole || frame.whole || frame.direction !== 'taken') return [];
      const own = new Map(frame.points.flatMap((point) => (point.place.kind === 'signal' ? [[point.id, point.name] as const] : [])));
      return document.routes.flatMap(({ id, name, destinationId }) => {
        const value = own.get(destinationId);
        if (value === undefined) return [];
        return {
          message: `${name}: ${value} lies in ${frame.name}, which the converter does not make: frames with identifiers ${identifiersOf(whole)} are sent whole, as the controller has made them (${whole.name}), so the value never leaves.`,
          mend: `Put it into the data of a record of ${whole.name}, or let fewer identifiers be sent whole.`,
          about: [whole.id, frame.id],
          at: { entity: 'route' as const, id, field: 'destinationId' },
        };
      });
    }),
});
