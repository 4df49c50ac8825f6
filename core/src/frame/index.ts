export { fromHex, toHex } from './hex.js';
export { checksum, ChecksumKind, crc16, lrc } from './checksum.js';
export {
  functionOf,
  functions,
  MASK_WRITE,
  MOST_EXCHANGED,
  READ_WRITE,
  readFunction,
  writeFunction,
  type ModbusFunction,
} from './functions.js';
export {
  describeException,
  exceptions,
  GATEWAY_PATH_UNAVAILABLE,
  GATEWAY_TARGET_FAILED,
  ILLEGAL_DATA_ADDRESS,
  ILLEGAL_DATA_VALUE,
  ILLEGAL_FUNCTION,
} from './exceptions.js';
export { packBits, packWords, readAnswer, requestPdu, unpackBits, unpackWords, type PduAnswer, type PduRequest } from './pdu.js';
export { MBAP_BYTES, readRtuFrame, rtuFrame, tcpFrame, fillTcpFrame, type Addressed } from './adu.js';
export { explainFrame, Framing, type ExplainedFrame, type FrameField } from './explain.js';
export { type Direction } from './explain-pdu.js';
export { asciiFrame, readAsciiFrame, serialCodecs, type SerialCodec } from './serial.js';
export {
  identificationAnswer,
  identificationRequest,
  type Identity,
  READ_DEVICE_IDENTIFICATION,
  readIdentity,
  REPORT_SERVER_ID,
  serverIdAnswer,
  serverIdRequest,
} from './identify.js';
export { readStream, type Stream, type StreamFrame } from './stream.js';
