export { LONGEST, Telegram, TelegramField } from './definition.js';
export { buildTelegram } from './build.js';
export { type Parsed, type ParsedField, Reader } from './parse.js';
export { readTelegrams, type StreamPart, TelegramStream } from './stream.js';
export { type FieldKind, type FieldValue } from './kinds/definition.js';
export { fieldKinds, kindOf } from './kinds/list.js';
export { bytesOfText, textOf, typedBytes, visible } from './text.js';
