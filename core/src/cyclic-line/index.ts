export { type BlockProgram, LinkExchange, type LinkRules } from './exchange.js';
export { HEAD_BYTES, type LinkDatagram, type LinkSizes, nextNumber, readDatagram, writeDatagram } from './datagram.js';
export type { LinkPortState } from './link-port-state.js';
export { blockLeavesWithinMs, blockRefreshOf } from './refresh.js';
