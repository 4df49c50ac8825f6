export { CarrierRun } from './carrier-run.js';
