export { recordedExchange } from './exchange.js';
export { countedIds, SmallProject } from './small-project.js';
export { IEC104_NOON, iec104Vectors } from './iec104-vectors.js';
