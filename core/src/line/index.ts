export { characterBits, characterMs, formatSettings, SerialSettings, silenceMs } from './character.js';
