import { recordsOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';
import { pointWidth } from '../../model/index.js';

export const recordSplit = defineCheck({
  id: 'record-split',
  severity: 'warning',
  scope: 'frames',
  meaning: 'The parts of a frame that is passed whole do not lie side by side, so that they may be of two frames when they are read.',
  find: ({ frames }) =>
    frames.flatMap((frame) =>
      recordsOf(frame).flatMap((own, record) => {
        const parts = own.map(({ point }) => point).sort((a, b) => a.offset - b.offset);
        const apart = parts.find((point, index) => {
          const before = parts[index - 1];
          return before && (before.table !== point.table || before.offset + pointWidth(before) < point.offset);
        });
        if (!apart) return [];
        return {
          message: `${frame.deviceName}: ${apart.name} does not lie beside the other parts of record ${record + 1} of ${frame.name}, so that one request may not have all of them: what is read is then put together of two frames.`,
          mend: 'Place the values of its converter anew (Registers, Image), or give the record a stretch of its own.',
          about: parts.flatMap(({ id }) => (id === apart.id ? [] : [id])),
          at: { entity: 'point' as const, id: apart.id, field: 'offset' },
        };
      }),
    ),
});
