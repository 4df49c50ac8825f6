export { type Carried, carryAcross, type Chain, masksOf, valuesAlong, wordsFor } from './carry.js';
export { coarserThan, type Overflow, overflowsOf, roomOf } from './bounds.js';
export { factorsWithinUnit } from './same-unit.js';
export { checkEnds, type EndsProblem } from './ends.js';
export { isOn, type Surroundings } from './surroundings.js';
export { reversed, routeBetween } from './between.js';
export { heartbeat, type HeartbeatWish } from './heartbeat.js';
export { type FirstPlace, inOrder, type InOrder, type InOrderRow } from './in-order.js';
