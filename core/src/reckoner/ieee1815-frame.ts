import { explain1815 } from '../ieee1815/index.js';
import { octetsReckoner } from './octets.js';

export const ieee1815Frame = octetsReckoner({
  name: 'ieee1815-frame',
  sentence: 'What a frame of IEEE 1815 says, octet by octet with its checks, and what is wrong with it.',
  example: '05 64 0E C4 0C 00 01 00 A7 3D C0 C1 01 3C 02 06 3C 03 06 29 14',
  explain: explain1815,
});
