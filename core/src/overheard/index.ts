export { overhear, type Overheard } from './overhear.js';
export { type Guess, guessAll } from './guesses.js';
export { type KeptMap, type Proposal, proposalOf } from './proposal.js';
export { type HeardRequest, Requests, type Sample } from './requests.js';
