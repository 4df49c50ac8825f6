import { defineCheck, listed } from '../../findings/index.js';

export const byteTwoWriters = defineCheck({
  id: 'byte-two-writers',
  severity: 'stop',
  scope: 'converter',
  doubts: true,
  meaning: 'Two sides of a converter write the same bytes of its image.',
  find: ({ converter, sideName }) => {
    const writing = converter.image?.windows.filter(({ use }) => use === 'writes') ?? [];
    return writing.flatMap((a, index) =>
      writing.slice(index + 1).flatMap((b) => {
        const [from, to] = [Math.max(a.byte, b.byte), Math.min(a.byte + a.bytes, b.byte + b.bytes)];
        if (to <= from || a.lineId === b.lineId) return [];
        return {
          message: `${converter.name}: ${listed([a, b].map(({ lineId }) => sideName(lineId)))} both write ${from === to - 1 ? `byte ${from}` : `bytes ${from} to ${to - 1}`} of the image, so each undoes the other.`,
          mend: 'Move one of the windows to bytes of its own, as its set-up has it.',
          at: { entity: 'device' as const, id: converter.id, field: 'image' },
        };
      }),
    );
  },
});
