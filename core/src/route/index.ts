export { type Carried, carryAcross, type Chain, type ChainMemory, masksOf, valuesAlong, wordsFor } from './carry.js';
export { coarserThan, type Overflow, overflowsOf, roomOf } from './bounds.js';
export { checkEnds, type EndsProblem } from './ends.js';
export { type Around, isOn } from './steps.js';
export { readExpression } from './expression.js';
export { inverseChain } from './inverse.js';
export { describeChain, describeStep } from './describe.js';
export { reversed, routeBetween } from './between.js';
export { type FirstPlace, inOrder, type InOrder, type InOrderRow } from './in-order.js';
