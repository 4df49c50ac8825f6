export { type ReadSample, readSamples } from './samples.js';
export { fieldOfWords, wordsOfField } from './value.js';
export { type Damage, TextExchange, textSilenceMs } from './exchange.js';
export { portInWords } from './port-in-words.js';
export { type PortQueue, sinceEpoch, type TelegramCounters, type TextPortState, type ToldText } from './text-port-state.js';
export { pointsOfTelegram } from './telegram-points.js';
export { diagnoseText, type TextDiagnosis } from './diagnose-text.js';
export { fieldHolds, leavesWithinMs, refreshOf } from './field-holds.js';
export { nameInWords, type NamedTelegram, type NamedText, nameText } from './name-text.js';
