export { Channel1815, type ChannelRules1815 } from './channel.js';
export { type CommandEnd1815, type ControlRules1815, ControlStation1815, type Seen1815 } from './control-station.js';
export { type Command1815, Outstation1815, type OutstationRules1815, type Point1815 } from './outstation.js';
