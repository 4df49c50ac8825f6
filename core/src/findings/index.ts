export { type Finding } from './finding.js';
export { type Bus, busesOf, type EthernetBus, type Member, type SerialBus } from './bus.js';
export { earthedCable } from './cable.js';
export { checkLines } from './lines.js';
export { expectedOf } from './serial.js';
