import { behaviourOf } from '../../behaviours/index.js';
import { typeName } from '../../program/index.js';
import { figure, lastedS, type Movement } from '../movement.js';

/** A bit that goes on and off: as long on and as long off as it was on average. */
export const switches: Movement = {
  id: 'switches',
  find({ variable, seen }) {
    if (typeName(variable.type) !== 'BOOL' || seen.length < 2) return null;
    const changes = seen.slice(1).filter(({ units }, index) => units !== seen[index]!.units).length;
    if (changes === 0) return null;
    const lasted = lastedS({ seen });
    const onS = seen.slice(1).reduce((sum, { atS }, index) => sum + (seen[index]!.units ? atS - seen[index]!.atS : 0), 0);
    // As many stretches on as off, the first and the last of which were not seen whole.
    const stretches = Math.max(1, changes / 2);
    const [on, off] = [onS / stretches, (lasted - onS) / stretches].map((each) => Math.max(0.1, Number(each.toPrecision(3))));
    return {
      says: `goes on for ${figure(on!)} s and off for ${figure(off!)} s`,
      moves: { by: 'behaviour', behaviour: behaviourOf('switch'), said: { value: variable.name, on: on!, off: off! } },
      begins: true,
    };
  },
};
