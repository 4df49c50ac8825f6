export { StandInsControl, type StandInState } from './control-client.js';
