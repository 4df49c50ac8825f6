export {
  arbitrate,
  type CanIdentifier,
  hexIdentifier,
  Identifier,
  IdentifierBits,
  identifierProblem,
  lastIdentifier,
  MOST_BYTES,
  SignalOrder,
} from '../can-id/index.js';
export { bitsOfSignal, bitText, CanSignal, rangeOfSignal, readSignal, signalProblem, type SignalValue, writeSignal } from './signal.js';
export { buildFrame, bytesFor, layoutProblems, readFrame, type ReadFrame } from './frame.js';
export { busTime, frameBits, type FrameTime, type TimedFrame } from './time.js';
export { bitsOnBus, type CanFrame, plainBits, stuffedIn } from './wire.js';
export { fromSocketCan, toSocketCan } from './socket-can.js';
export { type LoggedFrame, readCanCsv, readCanFrames, readCanLog, type ReadLog, writeCanCsv, writeCanLog } from './log.js';
export { sniff, type Sniffed } from './sniff.js';
export { type FoundSignal, learnSignals, type SignalKind } from './learn.js';
