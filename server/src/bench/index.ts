export { TrafficFollower } from './follow-traffic.js';
export { FileCaptures } from './file-captures.js';
export { AskTrips, Bench } from './bench.js';
export { AskArm, AskConfirm, AskReading } from './confirmed.js';
export { AskForce, AskInquiry, AskPattern, AskWrite } from './by-hand.js';
