export { CanExchange, type CanRules } from './exchange.js';
export type { CanErrors, CanPortState, FrameCounters } from './can-port-state.js';
export { canBeSignal, putSignal, signalOf, wordsOfSignal } from './signal-words.js';
export { frameLeavesWithinMs, frameRefreshOf, periodOf, signalHolds, timeOfBus } from './bus.js';
