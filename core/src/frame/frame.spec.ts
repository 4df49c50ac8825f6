import { groupOf } from '../failure/index.js';
import { bytesOf } from '../testing/index.js';
import fc from 'fast-check';
import { checksum, fromHex, type PduAnswer, readAnswer, requestPdu, toHex } from './index.js';

describe('checksum', () => {
  it('has the CRC of the serial line standard, low byte first', () => {
    expect(checksum('crc16-modbus', bytesOf('01 03 00 00 00 0A'))).toEqual({ value: 0xcdc5, bytes: [0xc5, 0xcd] });
    expect(checksum('crc16-modbus', bytesOf('02 07')).bytes).toEqual([0x41, 0x12]);
  });

  it('has the LRC of the serial line standard', () => {
    expect(checksum('lrc', bytesOf('01 03 00 00 00 0A')).value).toBe(0xf2);
  });

  it('sums and folds text telegrams', () => {
    expect(checksum('xor8', [0x31, 0x32, 0x33]).value).toBe(0x30);
    expect(checksum('sum8', [0xff, 0x02]).value).toBe(1);
  });
});

// The example of section 6.17.
const exchanging = { functionCode: 23, offset: 14, count: 3, values: [255, 255, 255], also: { offset: 3, count: 6 } };

describe('requestPdu', () => {
  // The examples of the application protocol V1.1b3, section 6.
  it('has the bytes of the standard', () => {
    expect(toHex(requestPdu({ functionCode: 1, offset: 19, count: 19 }))).toBe('01 00 13 00 13');
    expect(toHex(requestPdu({ functionCode: 3, offset: 107, count: 3 }))).toBe('03 00 6B 00 03');
    expect(toHex(requestPdu({ functionCode: 5, offset: 172, count: 1, values: [1] }))).toBe('05 00 AC FF 00');
    expect(toHex(requestPdu({ functionCode: 6, offset: 1, count: 1, values: [3] }))).toBe('06 00 01 00 03');
    expect(toHex(requestPdu({ functionCode: 15, offset: 19, count: 10, values: [1, 0, 1, 1, 0, 0, 1, 1, 1, 0] }))).toBe(
      '0F 00 13 00 0A 02 CD 01',
    );
    expect(toHex(requestPdu({ functionCode: 16, offset: 1, count: 2, values: [10, 258] }))).toBe('10 00 01 00 02 04 00 0A 01 02');
    expect(toHex(requestPdu({ functionCode: 22, offset: 4, count: 1, values: [0x00f2, 0x0025] }))).toBe('16 00 04 00 F2 00 25');
    expect(toHex(requestPdu(exchanging))).toBe('17 00 03 00 06 00 0E 00 03 06 00 FF 00 FF 00 FF');
  });

  it('does not make what no device may be sent', () => {
    expect(() => requestPdu({ functionCode: 3, offset: 0, count: 126 })).toThrowError(RangeError);
    expect(() => requestPdu({ functionCode: 3, offset: 0, count: 0 })).toThrowError(RangeError);
  });
});

describe('readAnswer', () => {
  const read = { functionCode: 3, offset: 107, count: 3 };

  it('takes the registers out of the standard’s answer', () => {
    expect(readAnswer(read, bytesOf('03 06 02 2B 00 00 00 64'))).toEqual({ kind: 'values', values: [555, 0, 100] });
    expect(readAnswer({ functionCode: 1, offset: 19, count: 19 }, bytesOf('01 03 CD 6B 05'))).toEqual({
      kind: 'values',
      values: [1, 0, 1, 1, 0, 0, 1, 1, 1, 1, 0, 1, 0, 1, 1, 0, 1, 0, 1],
    });
  });

  it('knows an exception', () => {
    expect(readAnswer(read, bytesOf('83 02'))).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 2 } });
  });

  it('takes the answer of an exchange', () => {
    const answer = bytesOf('17 0C 00 FE 0A CD 00 01 00 03 00 0D 00 FF');
    expect(readAnswer(exchanging, answer)).toEqual({ kind: 'values', values: [254, 2765, 1, 3, 13, 255] });
    expect(groupOfAnswer(readAnswer(exchanging, answer.subarray(0, 12)))).toBe('damaged');
  });

  it('refuses answers to another question', () => {
    for (const hex of ['04 06 02 2B 00 00 00 64', '03 04 02 2B 00 00', '03 06 02 2B 00 00 00', '83', '03']) {
      expect(groupOfAnswer(readAnswer(read, bytesOf(hex))))
        .withContext(hex)
        .toBe('damaged');
    }
    expect(groupOfAnswer(readAnswer({ functionCode: 6, offset: 1, count: 1, values: [3] }, bytesOf('06 00 01 00 04')))).toBe('damaged');
  });

  it('never throws, whatever comes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 260 }), (pdu) => void readAnswer(read, pdu)),
      { numRuns: 3000 },
    );
  });
});

describe('fromHex', () => {
  it('takes any spacing and names what is no hex', () => {
    expect(fromHex('0x01,03-00:6b\n00 3')).toEqual({ ok: true, value: Uint8Array.of(1, 3, 0, 0x6b, 0, 3) });
    expect(fromHex('01 0G')).toEqual(jasmine.objectContaining({ ok: false }));
    expect(fromHex('123').ok).toBeFalse();
    expect(fromHex('').ok).toBeFalse();
  });
});

function groupOfAnswer(answer: PduAnswer): string {
  return answer.kind === 'failed' ? groupOf(answer.failure) : answer.kind;
}
