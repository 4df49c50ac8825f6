export { askedFor, type Before, converterOf, farLineOf, isFarLine, isTextLine, registerWindows, windowsOn } from './converter-of.js';
export { CarriedFrame, type Frames, framesOf, framesOn } from './frames.js';
export { CarriedLink, linkOn, type Links, linksOf } from './links.js';
export type { Freshness, PointMemory } from './point-memory.js';
export { CarriedTelegram, type Texts, textsOf, textsOn } from './texts.js';
export { type Listener, listenerOf } from './listener.js';
