export { StandInsControl } from './control-client.js';
export { Played } from './played.js';
