import type { Movement } from '../movement.js';
import { counts } from './counts.js';
import { drifts } from './drifts.js';
import { follows } from './follows.js';
import { steps } from './steps.js';
import { swings } from './swings.js';
import { switches } from './switches.js';

/** Every way in which a point may be seen to move, in the order in which they are tried. A new one is a file of its own and its name here. */
export const movements: readonly Movement[] = [switches, follows, counts, steps, drifts, swings];
