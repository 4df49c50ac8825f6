import { defineCheck, onLine } from '../../findings/index.js';

export const canTermination = defineCheck({
  id: 'can-termination',
  severity: 'warning',
  scope: 'can',
  meaning: 'A CAN bus is not terminated at just two places.',
  find: (bus) => {
    const { length } = bus.members.filter(({ port }) => port.terminated);
    if (bus.members.length < 2 || length === 2) return [];
    return [
      {
        message: `${bus.line.name} is terminated at ${length} ${length === 1 ? 'place' : 'places'}; a CAN bus needs 120 Ω at both ends and nowhere else.`,
        mend: 'Terminate its two ends.',
        at: onLine(bus),
      },
    ];
  },
});
