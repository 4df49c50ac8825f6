export {
  characterBits,
  characterMs,
  formatCharacter,
  formatSettings,
  pauseMs,
  SerialSettings,
  settingsOf,
  silenceMs,
} from './character.js';
export { asReceived, type Received } from './receive.js';
export { likelySettings } from './likely.js';
export { groundLoops, type EarthedCable, type EarthedDevice, type GroundLoop, type GroundResult } from './ground.js';
export { BAUD_METRES, Duplex, Levels, type LineStandard, LONGEST_STUB_M, SerialFraming, StandardName, standards } from './standard.js';
export { type Transaction, type LineTime, lineTime, silentTimeMs, USUAL_TURNAROUND_MS } from './times.js';
export { Handshake, type PortSettings, XOFF, XON } from './handshake.js';
