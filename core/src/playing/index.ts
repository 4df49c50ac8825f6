export { type Carry, carryOf } from './carry.js';
export { type PlayedMap, playedPoints, type Wiring, wiringOf } from './wiring.js';
export { type Placed, type PointVariable, variableRules, variablesOf, variableType } from './variables.js';
export { ImageMemory, type Registers } from './image-memory.js';
