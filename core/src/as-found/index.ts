export {
  type FoundPlace,
  type KeptObserved,
  newestObserved,
  observedIn,
  Observed,
  type ObservedDevice,
  type ObservedLine,
  type ObservingEvent,
  Swept,
} from './observed.js';
export { type FoundRow, foundBeside, foundTally } from './beside.js';
export { canBeSwept, type Match, matchFound } from './match.js';
export { takeAsDesigned } from './take.js';
export { whereAsked } from './where-asked.js';
