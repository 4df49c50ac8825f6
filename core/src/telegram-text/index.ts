export { buildTelegram } from './build.js';
export { bytesIn, type Parsed, type ParsedField, Reader } from './parse.js';
export { readTelegrams, type StreamPart, TelegramStream } from './stream.js';
export { type FieldKind, type FieldValue, fieldKinds, kindOf } from './kinds/index.js';
export { type Proposed, proposeTelegram } from './propose/propose.js';
