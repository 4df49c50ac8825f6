export { ControlStation104, type CommandEnd, type ControlRules104, type Seen104 } from './control-station.js';
export { type LinkRules104, Link104 } from './link.js';
export { Outstation104, type Command104, type OutstationRules104, type Point104 } from './outstation.js';
