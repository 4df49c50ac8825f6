import fc from 'fast-check';
import { explainFrame } from '../explain/index.js';
import { requestPdu, toHex } from '../frame/index.js';
import { bytesOf } from '../testing/index.js';
import { asciiFrame, codecOf, readAsciiFrame, readRtuFrame, rtuFrame, tcpFrame } from './index.js';

// The example of section 6.17.
const exchanging = { functionCode: 23, offset: 14, count: 3, values: [255, 255, 255], also: { offset: 3, count: 6 } };

describe('frames', () => {
  it('carry unit and PDU there and back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 255 }), fc.uint8Array({ minLength: 1, maxLength: 253 }), (unit, pdu) => {
        expect(readRtuFrame(rtuFrame({ unit, pdu }))).toEqual({ unit, pdu });
      }),
    );
    expect(toHex(tcpFrame(0x1501, { unit: 255, pdu: bytesOf('03 00 04 00 01') }))).toBe('15 01 00 00 00 06 FF 03 00 04 00 01');
  });

  it('are refused when one bit is wrong', () => {
    const frame = rtuFrame({ unit: 17, pdu: bytesOf('03 00 6B 00 03') });
    for (let bit = 0; bit < frame.length * 8; bit++) {
      const damaged = frame.slice();
      damaged[bit >> 3]! ^= 1 << (bit & 7);
      expect(readRtuFrame(damaged)).toBeNull();
    }
  });
});

describe('explainFrame', () => {
  it('says what a request asks, whichever way it is framed', () => {
    const sentence = 'Unit 17 is asked for 3 holding registers from offset 107.';
    expect(explainFrame(bytesOf('11 03 00 6B 00 03 76 87'), 'auto')).toEqual(
      jasmine.objectContaining({ framing: 'rtu', ok: true, sentence }),
    );
    expect(explainFrame(bytesOf('00 01 00 00 00 06 11 03 00 6B 00 03'), 'auto')).toEqual(
      jasmine.objectContaining({ framing: 'tcp', ok: true, sentence }),
    );
    const ascii = Uint8Array.from([...':1103006B00037E\r\n'].map((character) => character.charCodeAt(0)));
    expect(explainFrame(ascii, 'auto')).toEqual(jasmine.objectContaining({ framing: 'ascii', ok: true, sentence }));
  });

  it('tells an answer from a request by its length', () => {
    expect(explainFrame(bytesOf('00 01 00 00 00 05 15 03 02 02 67'), 'tcp').sentence).toBe('Unit 21 answers 615.');
    expect(explainFrame(bytesOf('00 01 00 00 00 03 15 83 02'), 'tcp').sentence).toContain('illegal data address');
  });

  it('says of a truncated frame where it ends, and still explains what is there', () => {
    const cut = explainFrame(bytesOf('00 01 00 00 00 06 11 03 00 6B'), 'tcp');
    expect(cut.ok).toBeFalse();
    expect(cut.problems[0]).toContain('cut short');
    expect(cut.fields.map((field) => field.name)).toContain('function');
    expect(explainFrame(bytesOf('11 03 00'), 'rtu').problems[0]).toBe('The frame ends after 3 bytes; the shortest has 4.');
  });

  it('tells what an exchange writes from what it reads', () => {
    const { sentence, ok, fields } = explainFrame(rtuFrame({ unit: 3, pdu: requestPdu(exchanging) }), 'rtu');
    expect(ok).toBeTrue();
    expect(sentence).toContain('is told to write 3 holding registers from offset 14: 255, 255, 255; and is asked for 6 from offset 3.');
    expect(fields.map(({ name }) => name)).toContain('write count');
    const answer = Uint8Array.of(23, 12, 0, 0xfe, 0x0a, 0xcd, 0, 1, 0, 3, 0, 0x0d, 0, 0xff);
    expect(explainFrame(rtuFrame({ unit: 3, pdu: answer }), 'rtu', 'response').sentence).toContain('answers 254, 2765, 1, 3, 13, 255.');
    const short = rtuFrame({ unit: 3, pdu: requestPdu(exchanging).subarray(0, 14) });
    expect(explainFrame(short, 'rtu', 'request').problems).toEqual(['6 bytes of data stated; 4 are there.']);
  });

  it('names the bits that a mask write sets and clears', () => {
    const { sentence, ok } = explainFrame(rtuFrame({ unit: 3, pdu: Uint8Array.of(22, 0, 4, 0xff, 0xf5, 0, 0x02) }), 'rtu', 'request');
    expect([ok, sentence]).toEqual([true, 'Unit 3 is told to set bit 1 on, bit 3 off of the holding register at offset 4.']);
  });

  it('finds counts that no device may be asked for', () => {
    expect(explainFrame(rtuFrame({ unit: 1, pdu: bytesOf('03 00 00 00 7E') }), 'rtu', 'request').problems[0]).toContain('at most 125');
    expect(explainFrame(rtuFrame({ unit: 1, pdu: bytesOf('03 FF FF 00 02') }), 'rtu', 'request').problems[0]).toContain('65535');
  });

  it('gives every byte to exactly one field, whatever the bytes are', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 60 }),
        fc.constantFrom('tcp', 'rtu', 'ascii', 'auto' as const),
        (frame, framing) => {
          const { fields } = explainFrame(frame, framing as 'auto');
          const places = fields
            .flatMap(({ from, to }) => Array.from({ length: to - from + 1 }, (_, index) => from + index))
            .sort((a, b) => a - b);
          expect(places)
            .withContext(toHex(frame))
            .toEqual(Array.from(frame, (_, index) => index));
        },
      ),
      { numRuns: 3000 },
    );
  });
});

describe('ASCII frames', () => {
  it('are the pairs of hex characters that the standard has, and read back', () => {
    const frame = asciiFrame({ unit: 17, pdu: Uint8Array.of(3, 0, 0x6b, 0, 3) });
    expect(String.fromCharCode(...frame)).toBe(':1103006B00037E\r\n');
    expect(readAsciiFrame(frame)).toEqual({ unit: 17, pdu: Uint8Array.of(3, 0, 0x6b, 0, 3) });
  });

  it('are refused when one character is damaged', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1, maxLength: 60 }), fc.nat(), fc.integer({ min: 1, max: 255 }), (pdu, where, flip) => {
        const frame = asciiFrame({ unit: 9, pdu });
        const at = 1 + (where % (frame.length - 3));
        const before = frame[at]!;
        frame[at]! ^= flip;
        const sameDigit = String.fromCharCode(before).toLowerCase() === String.fromCharCode(frame[at]!).toLowerCase();
        return sameDigit || readAsciiFrame(frame) === null;
      }),
    );
  });
});

describe('the end of a frame in a stream', () => {
  it('is found for every function, in requests and in responses', () => {
    for (const framing of ['rtu', 'ascii'] as const) {
      const { encode, wholeFrame } = codecOf(framing);
      const requests = [
        requestPdu({ functionCode: 3, offset: 0, count: 9 }),
        requestPdu({ functionCode: 16, offset: 1, count: 2, values: [1, 2] }),
        requestPdu({ functionCode: 22, offset: 4, count: 1, values: [0xf2, 0x25] }),
        requestPdu(exchanging),
      ];
      for (const pdu of [...requests, Uint8Array.of(17), Uint8Array.of(0x2b, 14, 1, 0)]) {
        const frame = encode({ unit: 5, pdu });
        expect(wholeFrame(frame, 'request')).withContext(`${framing} ${pdu[0]}`).toBe(frame.length);
        expect(wholeFrame(frame.subarray(0, -1), 'request')).toBe(0);
      }
      for (const pdu of [
        Uint8Array.of(3, 2, 0, 7),
        Uint8Array.of(0x83, 2),
        Uint8Array.of(6, 0, 1, 0, 2),
        Uint8Array.of(22, 0, 4, 0, 0xf2, 0, 0x25),
        Uint8Array.of(23, 4, 0, 1, 0, 2),
      ]) {
        const frame = encode({ unit: 5, pdu });
        expect(wholeFrame(frame, 'response')).toBe(frame.length);
      }
    }
  });
});
