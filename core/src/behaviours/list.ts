import { count } from './count.js';
import type { Behaviour } from './definition.js';
import { display } from './display.js';
import { drift } from './drift.js';
import { echo } from './echo.js';
import { lag } from './lag.js';
import { onOff } from './on-off.js';
import { ramp } from './ramp.js';
import { release } from './release.js';
import { sine } from './sine.js';
import { goesOnAndOff } from './switch.js';
import { trip } from './trip.js';

/** Every ready-made behaviour, in the order in which they are offered. A new one is a file of its own and its name here. */
export const behaviours: readonly Behaviour[] = [sine, drift, count, goesOnAndOff, lag, ramp, onOff, trip, release, echo, display];

/** The behaviour of this id. Throws for one that is none. */
export function behaviourOf(id: string): Behaviour {
  const found = behaviours.find((behaviour) => behaviour.id === id);
  if (!found) throw new RangeError(`There is no behaviour “${id}”.`);
  return found;
}
