export { bytesOf } from './bytes-of.js';
export { recordedExchange } from './exchange.js';
export { countedIds, SmallProject } from './small-project.js';
export { IEC104_NOON, iec104Vectors } from './iec104-vectors.js';
export { IEEE1815_NOON, ieee1815Vectors } from './ieee1815-vectors.js';
export { withWholeFrames } from './whole-frames.js';
export { turnedRound } from './turned-round.js';
