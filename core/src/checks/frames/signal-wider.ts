import { defineCheck } from '../../findings/index.js';
import { widerIn } from '../wider.js';

export const signalWider = defineCheck({
  id: 'signal-wider',
  severity: 'stop',
  scope: 'frames',
  doubts: true,
  meaning: 'A signal has more bits than the registers in which it shall come.',
  find: ({ frames }) =>
    frames.flatMap(({ points, name }) => widerIn(points, ({ place }) => (place.kind === 'signal' ? { bits: place.bits, of: name } : null))),
});
