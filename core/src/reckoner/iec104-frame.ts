import { explainFrame104 } from '../iec104/index.js';
import { octetsReckoner } from './octets.js';

export const iec104Frame = octetsReckoner({
  name: 'iec104-frame',
  sentence: 'What a frame of IEC 60870-5-104 says, octet by octet, and what is wrong with it.',
  example: '68 0E 02 00 00 00 03 01 03 00 0C 00 65 00 00 02',
  explain: explainFrame104,
});
