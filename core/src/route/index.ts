export { type Carried, carryAcross, type Chain, chainOf, masksOf, valuesAlong, wordsFor } from './carry.js';
export { coarserThan, mayOverflow, type Overflow, overflowsOf, roomOf } from './bounds.js';
export { factorsWithinUnit } from './same-unit.js';
export { isOn, type Surroundings } from './surroundings.js';
