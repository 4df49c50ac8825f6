export { type Finding, type Fix, fixOf } from './finding.js';
export { type Bus, busesOf, type EthernetBus, type Member, type SerialBus } from './bus.js';
export { connectionsUsed } from './ethernet.js';
export { checkErrands } from './errands.js';
export { checkLines } from './lines.js';
export { expectedOf } from './serial.js';
export { checkMaps } from './maps.js';
