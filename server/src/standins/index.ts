export { StandInsControl } from './control-client.js';
