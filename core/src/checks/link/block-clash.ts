import { layoutProblems } from '../../can/index.js';
import { signalOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';
import { blocks } from '../../place/index.js';

export const blockClash = defineCheck({
  id: 'block-clash',
  severity: 'stop',
  scope: 'link',
  doubts: true,
  meaning: 'Values of a cyclic block share bits, or reach past its end.',
  find: ({ link: { line, points, stationName } }) =>
    blocks.flatMap(({ name }) => {
      const own = points.filter(({ place }) => place.kind === 'cyclic' && place.block === name);
      const bytes = name === 'input' ? line.inputBytes : line.outputBytes;
      const signals = own.flatMap((point) => signalOf(point) ?? []);
      return layoutProblems(signals, bytes, `the ${name}`).map((problem) => ({
        message: `${stationName}: ${problem}`,
        mend: 'Set the bytes of each value, and the size of the block, as the papers of the station have them.',
        at: { entity: 'point' as const, id: (own.find((point) => problem.includes(point.name)) ?? own[0]!).id, field: 'place' },
      }));
    }),
});
