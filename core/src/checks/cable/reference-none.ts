import { defineCheck, onLine } from '../../findings/index.js';
import { isTerminatedBus } from './cable.js';

export const referenceNone = defineCheck({
  id: 'reference-none',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A bus has no reference conductor, and its devices are not isolated.',
  find: (bus) => {
    if (!isTerminatedBus(bus) || bus.line.cable.reference || bus.members.every(({ port }) => port.isolated)) return [];
    return [
      {
        message: `${bus.line.name} has no reference conductor: its devices compare voltages against earths that differ.`,
        mend: 'Use a cable with a third conductor and join the common terminals with it.',
        at: onLine(bus, 'reference'),
      },
    ];
  },
});
