export { controllersOf, type ListedVariable, profileFor, standardProfile, variableList, type VariableList } from './variable-list.js';
export { literal } from './literal.js';
export { variableCells, without1252 } from './cells.js';
export { changesBetween, type Difference, type DifferenceGroup, differencesBetween } from './compare.js';
export { consequencesOf } from './consequences.js';
export { type Side, sidesFrom } from './three-ways.js';
export { type Failing, type LossEffect, type LostValue, lostWhen, type LostWhen, type Trip, unnoticed } from './lost-when.js';
export { afterText, effectText, lossCells } from './loss-words.js';
export { declared } from './declared.js';
