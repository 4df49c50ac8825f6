import { defineCheck, onPort } from '../../findings/index.js';
import { isLaid, loopsOf } from './cable.js';

export const commonMode = defineCheck({
  id: 'common-mode',
  severity: 'stop',
  scope: 'serial',
  meaning: 'The earths of two devices are further apart than receivers stand.',
  find: (bus) => {
    if (!isLaid(bus)) return [];
    const { commonMode: between, withinRange } = loopsOf(bus);
    if (withinRange || !between) return [];
    const [a, b] = between.between;
    return [
      {
        message: `The earths of ${a} and ${b} are ${between.volts} V apart; receivers on ${bus.line.name} stand −7 to +12 V.`,
        mend: `Isolate ${a} or ${b}.`,
        at: onPort(
          bus.members.find(({ name }) => name === b)!,
          'isolated',
        ),
      },
    ];
  },
});
