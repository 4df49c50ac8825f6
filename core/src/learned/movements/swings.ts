import { behaviourOf } from '../../behaviours/index.js';
import { figure, lastedS, type Movement, rangeOf, stepsOf } from '../movement.js';

/** Whatever else moves: between the same values, and on average as fast. */
export const swings: Movement = {
  id: 'swings',
  find(history) {
    const way = stepsOf(history).reduce((sum, step) => sum + Math.abs(step), 0);
    if (way === 0) return null;
    const { low, high } = rangeOf(history);
    // Once up and down is twice the range.
    const period = Math.min(86_400, Math.max(0.2, Number(((2 * (high - low) * lastedS(history)) / way).toPrecision(3))));
    return {
      says: `moves between ${figure(low)} and ${figure(high)}, once up and down in ${figure(period)} s`,
      moves: { by: 'behaviour', behaviour: behaviourOf('sine'), said: { value: history.variable.name, low, high, period } },
      begins: false,
    };
  },
};
