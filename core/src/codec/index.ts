export { codecOf, detectFramings, sureness } from './codecs.js';
export { type Addressed, type SerialCodec } from './framing.js';
export { couldAnswer, haveLikeAnswers } from './likeness.js';
export { MBAP_BYTES, tcpFrame, fillTcpFrame } from './tcp.js';
export { readRtuFrame, rtuFrame } from './rtu.js';
export { asciiFrame, readAsciiFrame } from './ascii.js';
export { pduLength } from './pdu-length.js';
export {
  type AnyInquiry,
  DIAGNOSTICS,
  diagnosticNames,
  echoRequest,
  type Fact,
  identityLevels,
  inquiries,
  InquiryAsk,
  inquiryOf,
  inquirySchema,
  MAX_QUEUED,
  MEI_IDENTIFICATION,
  READ_DEVICE_IDENTIFICATION,
  REPORT_SERVER_ID,
  serverIdAnswer,
  textBytes,
  type Told,
  twoBytes,
} from './inquiries/index.js';
