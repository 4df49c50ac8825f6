import { behaviourOf } from '../../behaviours/index.js';
import { figure, type Movement, rangeOf, stepsOf } from '../movement.js';

/** Of what is only noise, this share of steps goes the other way than the step before. */
const TURNS = 0.4;
const FEWEST = 4;

/** Something measured that stays near a value and never stands still. */
export const drifts: Movement = {
  id: 'drifts',
  find(history) {
    const steps = stepsOf(history).filter((step) => step !== 0);
    const turns = steps.slice(1).filter((step, index) => step > 0 !== steps[index]! > 0).length;
    if (steps.length < FEWEST || turns < TURNS * steps.length) return null;
    const { low, high } = rangeOf(history);
    const [around, by] = [(low + high) / 2, (high - low) / 2].map((each) => Number(each.toPrecision(4)));
    return {
      says: `drifts between ${figure(low)} and ${figure(high)}`,
      moves: { by: 'behaviour', behaviour: behaviourOf('drift'), said: { value: history.variable.name, around: around!, by: by! } },
      begins: false,
    };
  },
};
