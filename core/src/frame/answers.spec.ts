import { bytesOf } from '../testing/index.js';
import { functions, type PduRequest, readAnswer, readFunction, requestPdu, writeFunction } from './index.js';

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
