export { CanExchange, type CanRules } from './exchange.js';
export type { CanErrors, CanPortState, FrameCounters, StrangeFrame } from './can-port-state.js';
export { identifiersOf, isFrameOf, knownFrame, partsOfRecords, recordsOf } from './records.js';
export { blockStretch, canBeSignal, putSignal, signalOf, wordsOfCount, wordsOfSignal } from './signal-words.js';
export { frameLeavesWithinMs, frameRefreshOf, periodOf, signalHolds, timeOfBus } from './bus.js';
