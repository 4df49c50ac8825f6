export { AskHosts, AskReach, AskSettings, AskUnits } from './asked.js';
export { Prover } from './prover.js';
