import { defineCheck, onLine } from '../../findings/index.js';

/** Plain Envoy asks on every network by itself, so only a network on which it reaches nobody can be one-sided. */
export const nobodyAnswers = defineCheck({
  id: 'only-asking',
  severity: 'stop',
  scope: 'ethernet',
  meaning: 'Everyone on a network asks, and nobody answers.',
  find: (bus) =>
    bus.members.length >= 2 && bus.members.every(({ port }) => port.role === 'asks')
      ? [
          {
            message: `Everyone on ${bus.line.name} asks, and nobody answers.`,
            mend: 'Let at least one device answer as a server.',
            at: onLine(bus),
          },
        ]
      : [],
});
