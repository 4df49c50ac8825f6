export type { Ask, Behaviour, Lines, Wants } from './definition.js';
export { literalOf } from './literal.js';
export { behaviourOf, behaviours } from './list.js';
export { type Choice, choicesFor, type PlayedPoint, writeBehaviour, writeLines } from './write.js';
