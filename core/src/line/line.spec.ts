import { characterBits, characterMs, formatSettings, silenceMs } from './index.js';

const eightEvenOne = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;

describe('characters on a serial line', () => {
  it('have eleven bits by the standard and ten as 8N1', () => {
    expect(characterBits(eightEvenOne)).toBe(11);
    expect(characterBits({ ...eightEvenOne, parity: 'none', stopBits: 2 })).toBe(11);
    expect(characterBits({ ...eightEvenOne, parity: 'none' })).toBe(10);
    expect(characterMs({ ...eightEvenOne, baud: 9600, parity: 'none' })).toBeCloseTo(1.0417, 4);
  });

  it('are followed by a silence of 3.5 characters, fixed above 19200 baud', () => {
    expect(silenceMs(eightEvenOne)).toBeCloseTo(2.0052, 4);
    expect(silenceMs({ ...eightEvenOne, baud: 38_400 })).toBe(1.75);
  });

  it('are written as the trade does', () => {
    expect(formatSettings(eightEvenOne)).toBe('19200 8E1');
  });
});
