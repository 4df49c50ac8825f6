import { bytesOf } from '../testing/index.js';
import { ascii } from './ascii.js';
import { codecOf, detectFramings } from './codecs.js';
import { rtu, rtuFrame } from './rtu.js';

describe('an RTU frame in a stream of bytes', () => {
  const whole = (hex: string, direction: 'request' | 'response') => rtu.wholeFrame(bytesOf(hex), direction);

  it('ends where function and byte count say', () => {
    expect(whole('11 03 00 6B 00 03 76 87', 'request')).toBe(8);
    expect(whole('11 03 00 6B 00 03 76', 'request')).toBe(0);
    expect(whole('11 03 00', 'request')).toBe(0);
    expect(whole('11 10 00 01 00 01 02 00 0A 00 00', 'request')).toBe(11);
    expect(whole('11 10 00 01 00 01 02 00 0A 00', 'request')).toBe(0);
    expect(whole('11 10 00 01 00 01', 'request')).toBe(0);
    expect(whole('11 16 00 04 00 F2 00 25 00 00', 'request')).toBe(10);
    expect(whole('11 17 00 03 00 06 00 0E 00 01 02 00 FF 00 00', 'request')).toBe(15);
    expect(whole('11 17 00 03 00 06 00 0E 00 01', 'request')).toBe(0);
    expect(whole('11 11 C0 2C', 'request')).toBe(4);
    expect(whole('11 2B 0E 01 00 00 00', 'request')).toBe(7);
    expect(whole('11 03 02 00 07 00 00', 'response')).toBe(7);
    expect(whole('11 03 02 00 07 00', 'response')).toBe(0);
    expect(whole('11 83 02 C1 34', 'response')).toBe(5);
    expect(whole('11 06 00 01 00 03 00 00', 'response')).toBe(8);
    expect(whole('11 16 00 04 00 F2 00 25 00 00', 'response')).toBe(10);
    expect(whole('11 17 02 00 07 00 00', 'response')).toBe(7);
    expect(whole('11 11 02 41 FF 00 00', 'response')).toBe(7);
  });

  it('is not told by bytes of a function whose length is not known, or that would be longer than any frame', () => {
    expect(whole('11 41 00 00 00 00', 'request')).toBeNull();
    expect(whole('11 41 00 00 00 00', 'response')).toBeNull();
    expect(whole('11 03 FC 00 00', 'response')).toBeNull();
    expect(whole('11 03 FB 00 00', 'response')).toBe(0);
    expect(whole('11 10 00 01 00 01 F8', 'request')).toBeNull();
    expect(whole('11 10 00 01 00 01 F7', 'request')).toBe(0);
  });

  it('is looked into without a check, as far as it goes', () => {
    expect(rtu.inside(bytesOf('11 03 00 6B 76 87'))).toEqual({ unit: 17, pdu: bytesOf('03 00 6B') });
    expect(rtu.inside(bytesOf('11 03'))).toEqual({ unit: 17, pdu: bytesOf('') });
    expect(rtu.inside(bytesOf(''))).toEqual({ unit: 0, pdu: bytesOf('') });
    expect(rtu.frameBytes(5)).toBe(8);
    const how = (hex: string) => rtu.likeness(bytesOf(hex))?.how ?? null;
    expect(how('11 03 00 6B 00 03 76 87')).toBe('sure');
    expect([how('11 03 00 6B 00 03 77 87'), how('11 03 00 6B 00 03 76 88'), how('11 83 02 00 00')]).toEqual(['likely', 'likely', 'likely']);
    expect([how('11 03 00 6B 00 03 76'), how('11 63 00 6B 00 03 76 87'), how('FF FF')]).toEqual(['possible', null, null]);
  });

  it('is taken whole and right only', () => {
    expect(rtu.decode(rtuFrame({ unit: 3, pdu: bytesOf('07') }))).toEqual({ unit: 3, pdu: bytesOf('07') });
    const longest = rtuFrame({ unit: 3, pdu: new Uint8Array(253).fill(7) });
    expect(rtu.decode(longest)?.pdu.length).toBe(253);
    expect(rtu.decode(rtuFrame({ unit: 3, pdu: new Uint8Array(254).fill(7) }))).toBeNull();
    expect(rtu.decode(rtuFrame({ unit: 3, pdu: bytesOf('') }))).toBeNull();
    longest[5]! ^= 1;
    expect(rtu.decode(longest)).toBeNull();
  });
});

describe('an ASCII frame', () => {
  const text = (characters: string) => Uint8Array.from([...characters], (character) => character.charCodeAt(0));

  it('is taken whole and right only', () => {
    expect(ascii.decode(text(':1103006B00037E\r\n'))).toEqual({ unit: 17, pdu: bytesOf('03 00 6B 00 03') });
    for (const damaged of [
      ':1103006B00037F\r\n',
      ' :1103006B00037E\r\n',
      ':1103006B00037E\r\n ',
      ':1103006B00037E\n',
      ':1103006B00037\r\n',
      ':1003F\r\n',
      ':00FF\r\n',
      ':00GG00\r\n',
    ])
      expect(ascii.decode(text(damaged)))
        .withContext(damaged)
        .toBeNull();
    const longest = ascii.encode({ unit: 1, pdu: new Uint8Array(253) });
    expect([longest.length, ascii.frameBytes(253)]).toEqual([513, 513]);
    expect(ascii.decode(longest)?.pdu.length).toBe(253);
    expect(ascii.decode(ascii.encode({ unit: 1, pdu: new Uint8Array(254) }))).toBeNull();
  });

  it('ends at its line feed, and is looked into as far as it goes', () => {
    expect(ascii.wholeFrame(text(':11\r\n:22'), 'request')).toBe(5);
    expect(ascii.wholeFrame(text(':11\r'), 'request')).toBe(0);
    expect(ascii.inside(text(':1103006B7E\r\n'))).toEqual({ unit: 17, pdu: bytesOf('03 00 6B') });
    expect(ascii.inside(text(':11'))).toEqual({ unit: 17, pdu: bytesOf('') });
    expect(ascii.inside(text(':'))).toEqual({ unit: 0, pdu: bytesOf('') });
  });
});

describe('the framings', () => {
  it('are called as the trade calls them', () => {
    expect((['tcp', 'rtu', 'ascii'] as const).map((name) => codecOf(name).label)).toEqual(['TCP', 'RTU', 'ASCII']);
    expect(codecOf('tcp').inside(bytesOf('00 01 00 00 00 03 11 07 08'))).toEqual({ unit: 17, pdu: bytesOf('07 08') });
    expect(codecOf('tcp').inside(bytesOf('00'))).toEqual({ unit: 0, pdu: bytesOf('') });
    const like = (hex: string) => codecOf('tcp').likeness(bytesOf(hex))?.how ?? null;
    expect(['00 01 00 00 00 02', '00 01 00 00 00 FE', '00 01 00 00 00 03 11 07 08'].map(like)).toEqual(['possible', 'possible', 'sure']);
    expect(['00 01 00 00 00 01', '00 01 00 00 00 FF', '00 01 01 00 00 02', '00 01 00 01 00 02', '00 01 00 00 02'].map(like)).toEqual(
      Array(5).fill(null),
    );
  });

  it('are found, all that could be, the likeliest first', () => {
    const found = (hex: string) => detectFramings(bytesOf(hex)).map(({ framing, how }) => `${framing} ${how}`);
    expect(found('01 03 00 00 00 0A C5 CC')).withContext('a damaged frame of unit 1').toEqual(['rtu likely', 'tcp possible']);
    expect(found('01 03 00 00 00 0A C5 CD')).toEqual(['rtu sure', 'tcp possible']);
    expect(found('00 01 00 00 00 06 11 03 00 6B 00 03')).toEqual(['tcp sure', 'rtu possible']);
    expect(found('FF')).toEqual([]);
    const text = (typed: string) => detectFramings(Uint8Array.from(typed, (character) => character.charCodeAt(0)))[0];
    expect(text('noise:0103\r\n')).toEqual({ framing: 'ascii', how: 'likely', why: 'they are text with a colon in it' });
    expect(text(':010300000001FB\r\n')?.how).toBe('sure');
    expect(text(':010300000001FC\r\n')?.how).toBe('likely');
  });
});
