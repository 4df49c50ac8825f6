export { ControlEnd, type EndRules, OutstationEnd, type StationEnd } from './ends.js';
