export { type ReadSample, readSamples } from './samples.js';
export { fieldOfWords, wordsOfField } from './value.js';
export { type Damage, TextExchange, type TextMemory, textSilenceMs } from './exchange.js';
export { ImageMemory, type Registers } from './image-memory.js';
export type { TelegramCounters, TextPortState, ToldText } from './text-port-state.js';
export { pointsOfTelegram } from './telegram-points.js';
export { diagnoseText, type TextDiagnosis } from './diagnose-text.js';
export { fieldHolds, leavesWithinMs, type Refresh, refreshOf } from './field-holds.js';
export { nameInWords, type NamedTelegram, type NamedText, nameText } from './name-text.js';
