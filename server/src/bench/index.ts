export { FileCaptures } from './file-captures.js';
export { AskArm, AskTrips, Bench } from './bench.js';
export { AskForce, AskInquiry, AskPattern, AskWrite } from './by-hand.js';
