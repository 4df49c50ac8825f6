export { explainFrame, type ExplainedFrame } from './explain.js';
export { type ExplainedPdu, explainPdu } from './explain-pdu.js';
export { readStream, type Stream, type StreamFrame } from './stream.js';
