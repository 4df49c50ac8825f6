export { type Carry, carryOf } from './carry.js';
export { type PointVariable, variableRules, variablesOf, variableType } from './variables.js';
