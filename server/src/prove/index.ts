export { AskHosts, AskReach, AskRead, AskSettings, AskUnits, On } from './asked.js';
export { Prover } from './prover.js';
export { AskLosses, AskProof, type ProofNote, RouteProofs } from './route-proofs.js';
export { deviceOf, type Grounds, leaving, Ways } from './ways.js';
