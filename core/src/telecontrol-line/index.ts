export { eventHolds, eventLeavesWithinMs, eventRefreshOf, LOOKS_EVERY_MS } from './refresh.js';
export type { ArchivedState, CommandState, SeenPointState, StationPortState } from './station-port-state.js';
export {
  addressKey,
  canBeSaid,
  type EventPoint,
  groupOf,
  isEventPoint,
  pointKey,
  sayable,
  spanOf,
  type Standard,
  thresholdOf,
  wordsOfSaid,
} from './values.js';
