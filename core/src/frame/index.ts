export { bytesText, fromHex, toHex } from './hex.js';
export { checksum, ChecksumKind, crc16, lrc, reflectedCrc16 } from './checksum.js';
export {
  functionOf,
  functions,
  MASK_WRITE,
  MAX_EXCHANGED,
  READ_WRITE,
  readFunction,
  writeFunction,
  type ModbusFunction,
} from './functions.js';
export {
  describeException,
  exceptions,
  GATEWAY_PATH_UNAVAILABLE,
  isOfGateway,
  GATEWAY_TARGET_FAILED,
  ILLEGAL_DATA_ADDRESS,
  ILLEGAL_DATA_VALUE,
  ILLEGAL_FUNCTION,
} from './exceptions.js';
export {
  notAnswerTo,
  packBits,
  packWords,
  readAnswer,
  requestPdu,
  unpackBits,
  unpackWords,
  type PduAnswer,
  type PduRequest,
} from './pdu.js';
export { type Addressed, type SerialCodec } from './framing.js';
export { Framing, framingOf, type ModbusFraming, modbusFramings, type SocketFraming, socketFramings } from './facts.js';
export { codecOf, detectFramings, sureness } from './codecs.js';
export { couldAnswer, haveLikeAnswers } from './likeness.js';
export { MBAP_BYTES, tcpFrame, fillTcpFrame } from './tcp.js';
export { readRtuFrame, rtuFrame } from './rtu.js';
export { asciiFrame, readAsciiFrame } from './ascii.js';
export type { Direction, FrameField, Part, Parts } from './parts.js';
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
export { there, unlikeBytes, wordAt } from './pdu-words.js';
