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
export {
  asciiFacts,
  Framing,
  type FramingFacts,
  framingOf,
  type ModbusFraming,
  modbusFramings,
  rtuFacts,
  type SerialFramingFacts,
  type SocketFraming,
  socketFramings,
  tcpFacts,
} from './facts.js';
export type { Direction, FrameField, Part, Parts } from './parts.js';
export { bitsText, hexText, there, unlikeBytes, wordAt } from './pdu-words.js';
