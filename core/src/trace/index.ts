export { type End, ends, headOf, pduOf, type TraceRecord } from './record.js';
export { matcher, recordOf, rowOf, TraceFilter, type TraceRow } from './filter.js';
export { answered, type Asked, askedIn, type SeenPoint, type RegisterSpan, teller, type ToldExchange } from './tell.js';
export { type Peer, PcapngWriter, writePcapng } from './write-pcapng.js';
export { readPackets } from './read-packets.js';
export { readSerial } from './pair.js';
export { readRecording } from './read-recording.js';
export { readSerialText, type SerialText } from './serial-text.js';
export { type CaptureState, keepsAll, TraceTrigger, TriggerOn, whyFires } from './trigger.js';
