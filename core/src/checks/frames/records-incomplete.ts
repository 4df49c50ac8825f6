import { recordsOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const recordsIncomplete = defineCheck({
  id: 'records-incomplete',
  severity: 'stop',
  scope: 'frames',
  doubts: true,
  meaning: 'A record of a frame that is passed whole lacks a part without which it cannot be used, or has one twice.',
  find: ({ frames }) =>
    frames.flatMap((frame) => {
      const { name, deviceName } = frame;
      const at = { entity: 'frame' as const, id: frame.id, field: 'whole' };
      return recordsOf(frame).flatMap((own, record) => {
        const parts = own.map(({ place }) => place);
        const twice = parts.find((one, index) =>
          parts.slice(0, index).some(({ part, byte }) => part === one.part && (part !== 'data' || byte === one.byte)),
        );
        const which = `${deviceName}: record ${record + 1} of ${name}`;
        if (twice) return [{ message: `${which} has its ${twice.part} twice.`, mend: 'Delete the point that is too many.', at }];
        if (parts.some(({ part }) => part === 'count')) return [];
        return [
          {
            message: `${which} has no count: nobody can tell whether there is a new frame in it.`,
            mend: 'Keep the frame again on Frames, which makes what is missing, or let it have fewer records.',
            at,
          },
        ];
      });
    }),
});
