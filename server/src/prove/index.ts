export { AskHosts, AskReach, AskRead, AskSettings, AskUnits } from './asked.js';
export { Prover } from './prover.js';
export { AskProof, RouteProofs } from './route-proofs.js';
