import { defineCheck, onLine } from '../../findings/index.js';
import { isTerminatedBus } from './cable.js';

export const biasNone = defineCheck({
  id: 'bias-none',
  severity: 'advice',
  scope: 'serial',
  meaning: 'Nothing biases a bus, so that its pair floats between frames.',
  find: (bus) =>
    isTerminatedBus(bus) && bus.members.every(({ port }) => !port.bias)
      ? [
          {
            message: `Nothing biases ${bus.line.name}: between frames its pair floats, and noise is taken for start bits.`,
            mend: 'Bias it at one place, best at the one that asks.',
            at: onLine(bus),
          },
        ]
      : [],
});
