export type { Ask, Behaviour, Wants } from './definition.js';
export { behaviours } from './list.js';
export { type Choice, choicesFor, type PlayedPoint, writeBehaviour } from './write.js';
