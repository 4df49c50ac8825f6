export { askedFor, type Before, converterOf, farLineOf, isTextLine, registerWindows, windowsOn } from './converter-of.js';
export { directionOf, farPointsIn, orderOf, placeFar } from './placing.js';
export { type ReadSample, readSamples } from './samples.js';
export { CarriedTelegram, type Texts, textsOf } from './texts.js';
export { fieldOfWords, wordsOfField } from './value.js';
export { type Damage, TextExchange, type TextMemory } from './exchange.js';
export { ImageMemory, type Registers } from './image-memory.js';
export type { TelegramCounters, TextPortState, ToldText } from './text-port-state.js';
