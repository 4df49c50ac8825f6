import { defineCheck } from '../../findings/index.js';
import { pointWidth } from '../../model/index.js';

export const signalWider = defineCheck({
  id: 'signal-wider',
  severity: 'stop',
  scope: 'frames',
  doubts: true,
  meaning: 'A signal has more bits than the registers in which it shall come.',
  find: ({ frames }) =>
    frames.flatMap(({ points, name }) =>
      points.flatMap((point) => {
        const room = point.type === 'bit' ? 1 : 16 * pointWidth(point);
        if (point.place.kind !== 'signal' || point.place.bits <= room) return [];
        return {
          message: `${point.name} has ${point.place.bits} bits in ${name}, and its type ${point.type} holds ${room}: a value past them does not come, and nothing else of that frame either.`,
          mend: 'Choose a wider type, or say how many bits it really has.',
          at: { entity: 'point' as const, id: point.id, field: 'type' },
        };
      }),
    ),
});
