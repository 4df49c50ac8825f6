import fc from 'fast-check';
import { rtuFrame } from '../codec/index.js';
import { readStream } from './index.js';

const request = rtuFrame({ unit: 21, pdu: Uint8Array.of(4, 0, 10, 0, 2) });
const answer = rtuFrame({ unit: 21, pdu: Uint8Array.of(4, 4, 0xcc, 0xcd, 0x42, 0x76) });
const refusal = rtuFrame({ unit: 21, pdu: Uint8Array.of(0x84, 2) });
const write = rtuFrame({ unit: 41, pdu: Uint8Array.of(16, 0, 0, 0, 1, 2, 3, 0xe8) });
const written = rtuFrame({ unit: 41, pdu: Uint8Array.of(16, 0, 0, 0, 1) });

const joined = (...parts: (Uint8Array | number[])[]) => Uint8Array.from(parts.flatMap((part) => [...part]));

describe('readStream', () => {
  it('finds frames by length and checksum, ties answers to requests, and calls the rest noise', () => {
    const bytes = joined([0, 0xff], request, answer, [7], write, written, request, refusal);
    const { frames, noise } = readStream(bytes);
    expect(frames.map(({ direction, answers }) => [direction, answers])).toEqual([
      ['request', null],
      ['response', 0],
      ['request', null],
      ['response', 2],
      ['request', null],
      ['response', 4],
    ]);
    expect(noise).toEqual([
      { from: 0, to: 1 },
      { from: 2 + request.length + answer.length, to: 2 + request.length + answer.length },
    ]);
    expect(frames[0]).toEqual(jasmine.objectContaining({ from: 2, to: 9, ok: true }));
  });

  it('does not tie an answer to a question of another unit, nor wait after a broadcast', () => {
    const other = rtuFrame({ unit: 22, pdu: Uint8Array.of(4, 4, 0, 1, 0, 2) });
    expect(readStream(joined(request, other)).frames.map(({ answers }) => answers)).toEqual([null, null]);
    const everybody = rtuFrame({ unit: 0, pdu: Uint8Array.of(6, 0, 1, 0, 2) });
    expect(readStream(joined(everybody, everybody)).frames.map(({ direction }) => direction)).toEqual(['request', 'request']);
  });

  it('covers every byte exactly once, whatever came', () => {
    const piece = fc.oneof(fc.constantFrom(request, answer, refusal, write, written), fc.uint8Array({ maxLength: 12 }));
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 12 }), (pieces) => {
        const bytes = joined(...pieces);
        const { frames, noise } = readStream(bytes);
        const covered = [...frames, ...noise]
          .sort((a, b) => a.from - b.from)
          .flatMap(({ from, to }) => Array.from({ length: to - from + 1 }, (_, index) => from + index));
        expect(covered).toEqual(Array.from(bytes.keys()));
      }),
    );
  });
});
