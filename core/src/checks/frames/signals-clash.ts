import { layoutProblems } from '../../can/index.js';
import { signalOf } from '../../can-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const signalsClash = defineCheck({
  id: 'signals-clash',
  severity: 'stop',
  scope: 'frames',
  doubts: true,
  meaning: 'Signals of a frame share bits, or reach past its end.',
  find: ({ frames }) =>
    frames.flatMap((frame) => {
      const signals = frame.points.flatMap((point) => signalOf(point) ?? []);
      return layoutProblems(signals, frame.bytes).map((problem) => ({
        message: `${frame.deviceName}, ${frame.name}: ${problem}`,
        mend: 'Set its bytes, and the bits of each signal, as the papers of the device have them.',
        at: { entity: 'frame' as const, id: frame.id, field: 'bytes' },
      }));
    }),
});
