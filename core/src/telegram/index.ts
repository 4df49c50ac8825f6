export { LONGEST, Telegram, TelegramField } from './definition.js';
export { type LengthField } from './endings.js';
export type { ByPattern, ByPosition, BySeparator, FieldAt } from './places.js';
export { patternOf, usePatterns } from './patterns.js';
export { bytesAsTheyCame, bytesOfText, encodedLength, encodingProblem, textOf, typedBytes, visible } from './text.js';
