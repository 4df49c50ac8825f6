import { ascii } from './ascii.js';
import { codecOf, detectFramings } from './codecs.js';
import { functions, readFunction, writeFunction } from './functions.js';
import { type PduRequest, readAnswer, requestPdu } from './pdu.js';
import { rtu, rtuFrame } from './rtu.js';

const bytesOf = (hex: string) => Uint8Array.from(hex.split(' ').filter(Boolean), (pair) => parseInt(pair, 16));
const hexOf = (bytes: Uint8Array) => [...bytes].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');

describe('a request', () => {
  it('becomes the bytes of its function', () => {
    const pdu = (request: Partial<PduRequest>) => hexOf(requestPdu({ functionCode: 3, offset: 0x1234, count: 1, ...request }));
    expect(pdu({ count: 125 })).toBe('03 12 34 00 7D');
    expect(pdu({ functionCode: 1, count: 2000 })).toBe('01 12 34 07 D0');
    expect(pdu({ functionCode: 5, values: [1] })).toBe('05 12 34 FF 00');
    expect(pdu({ functionCode: 5, values: [0] })).toBe('05 12 34 00 00');
    expect(pdu({ functionCode: 6, values: [0xabcd] })).toBe('06 12 34 AB CD');
    expect(pdu({ functionCode: 15, count: 10, values: [1, 0, 1, 1, 0, 0, 0, 0, 0, 1] })).toBe('0F 12 34 00 0A 02 0D 02');
    expect(pdu({ functionCode: 16, count: 2, values: [0x0102, 0xfffe] })).toBe('10 12 34 00 02 04 01 02 FF FE');
    expect(pdu({ functionCode: 22, values: [0xff00, 0x0012] })).toBe('16 12 34 FF 00 00 12');
    const also = { offset: 0x0708, count: 0x7d };
    expect(pdu({ functionCode: 23, values: [7], also })).toBe('17 07 08 00 7D 12 34 00 01 02 00 07');
  });

  it('is refused past the limits of its function', () => {
    const most: [functionCode: number, count: number][] = [
      [1, 2000],
      [2, 2000],
      [3, 125],
      [4, 125],
      [5, 1],
      [6, 1],
      [15, 1968],
      [16, 123],
      [23, 121],
    ];
    for (const [functionCode, count] of most) {
      const values = new Array<number>(count).fill(0);
      const sized = (size: number) => () => requestPdu({ functionCode, offset: 0, count: size, values, also: { offset: 0, count: 1 } });
      expect(sized(count)).not.toThrow();
      expect(sized(count + 1)).toThrowError(RangeError, `Function ${functionCode} cannot carry ${count + 1}.`);
      expect(sized(0)).toThrowError(RangeError);
    }
    expect(() => requestPdu({ functionCode: 99, offset: 0, count: 1 })).toThrowError('Function 99 cannot carry 1.');
  });
});

describe('an answer', () => {
  const reads: PduRequest = { functionCode: 3, offset: 16, count: 2 };
  const failure = (request: PduRequest, hex: string) => {
    const answer = readAnswer(request, bytesOf(hex));
    return answer.kind === 'failed' ? answer.failure : answer.kind;
  };

  it('brings the values that were asked for', () => {
    expect(readAnswer(reads, bytesOf('03 04 01 02 FF FE'))).toEqual({ kind: 'values', values: [0x0102, 0xfffe] });
    expect(readAnswer({ functionCode: 1, offset: 0, count: 10 }, bytesOf('01 02 05 02'))).toEqual({
      kind: 'values',
      values: [1, 0, 1, 0, 0, 0, 0, 0, 0, 1],
    });
    const exchange: PduRequest = { functionCode: 23, offset: 0, count: 3, values: [1, 2, 3], also: { offset: 9, count: 1 } };
    expect(readAnswer(exchange, bytesOf('17 02 00 07'))).toEqual({ kind: 'values', values: [7] });
  });

  it('is not taken where it answers another question, has another size, or says no', () => {
    expect(failure(reads, '04 04 01 02 FF FE')).toEqual({ code: 'wrong-function', asked: 3, got: 4 });
    expect(failure(reads, '')).toEqual({ code: 'wrong-function', asked: 3, got: null });
    expect(failure(reads, '03 02 01 02')).toEqual({ code: 'wrong-size', asked: 4, got: 2 });
    expect(failure(reads, '03 04 01 02 FF')).toEqual({ code: 'wrong-size', asked: 4, got: 3 });
    expect(failure(reads, '03 05 01 02 FF FE')).toEqual({ code: 'wrong-size', asked: 4, got: 4 });
    expect(failure({ functionCode: 1, offset: 0, count: 8 }, '01 02 FF FF')).toEqual({ code: 'wrong-size', asked: 1, got: 2 });
    expect(failure(reads, '83 02')).toEqual({ code: 'exception', exception: 2 });
    expect(failure(reads, '83')).toEqual({ code: 'exception-without-code' });
    expect(failure(reads, '83 02 00')).toEqual({ code: 'exception-without-code' });
  });

  it('confirms a write only by what was written', () => {
    const many: PduRequest = { functionCode: 16, offset: 0x0102, count: 2, values: [1, 2] };
    expect(failure(many, '10 01 02 00 02')).toBe('written');
    for (const other of ['10 01 02 00 01', '10 01 03 00 02', '10 01 02 00 02 00', '10 01 02 00'])
      expect(failure(many, other)).toEqual({ code: 'not-confirmed' });
    const one: PduRequest = { functionCode: 6, offset: 1, count: 1, values: [0x0a0b] };
    expect(failure(one, '06 00 01 0A 0B')).toBe('written');
    expect(failure(one, '06 00 01 0A 0C')).toEqual({ code: 'not-confirmed' });
    const mask: PduRequest = { functionCode: 22, offset: 1, count: 1, values: [0xfff0, 0x0005] };
    expect(failure(mask, '16 00 01 FF F0 00 05')).toBe('written');
    expect(failure(mask, '16 00 01 FF F0')).toEqual({ code: 'not-confirmed' });
    expect(failure(mask, '16 00 01 FF F0 00 04')).toEqual({ code: 'not-confirmed' });
  });
});

describe('the function', () => {
  it('is found by what it reaches and what it does there', () => {
    expect((['coil', 'discrete', 'holding', 'input'] as const).map((table) => readFunction(table).code)).toEqual([1, 2, 3, 4]);
    const writing = (count: number) =>
      (['coil', 'discrete', 'holding', 'input'] as const).map((table) => writeFunction(table, count)?.code ?? null);
    expect(writing(1)).toEqual([5, null, 6, null]);
    expect(writing(2)).toEqual([15, null, 16, null]);
    expect(functions.map(({ code, bits }) => `${code}${bits ? ' bits' : ''}`)).toEqual([
      '1 bits',
      '2 bits',
      '3',
      '4',
      '5 bits',
      '6',
      '15 bits',
      '16',
      '22',
      '23',
    ]);
  });
});

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
