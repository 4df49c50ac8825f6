import fc from 'fast-check';
import {
  arbitrate,
  bitsOfSignal,
  bitsOnBus,
  buildFrame,
  busTime,
  bytesFor,
  type CanSignal,
  frameBits,
  hexIdentifier,
  identifierProblem,
  type IdentifierBits,
  layoutProblems,
  plainBits,
  rangeOfSignal,
  readFrame,
  stuffedIn,
  type TimedFrame,
} from './index.js';

const signal = (fields: Partial<CanSignal> = {}): CanSignal => ({
  ...{ name: 'speed', firstBit: 0, bits: 16, order: 'little', signed: false, factor: 1, offset: 0, float: false },
  ...fields,
});
const bytes = (...data: number[]) => Uint8Array.from(data);

describe('identifiers', () => {
  it('are written with as many figures as their bits need, and end where those end', () => {
    expect(hexIdentifier({ identifierBits: 11, identifier: 0x7f })).toBe('07F');
    expect(hexIdentifier({ identifierBits: 29, identifier: 0x7f })).toBe('0000007F');
    expect(identifierProblem({ identifierBits: 11, identifier: 0x7ff })).toBeNull();
    expect(identifierProblem({ identifierBits: 11, identifier: 0x800 })).toBe('00000800 has more than 11 bits: they end at 7FF.');
    expect(identifierProblem({ identifierBits: 29, identifier: 0x2000_0000 })).toContain('they end at 1FFFFFFF');
  });

  it('are arbitrated bit by bit, as the bits on the bus are compared', () => {
    const one = fc.oneof(
      fc.record({ identifierBits: fc.constant<IdentifierBits>(11), identifier: fc.nat(0x7ff) }),
      fc.record({ identifierBits: fc.constant<IdentifierBits>(29), identifier: fc.nat(0x1fff_ffff) }),
    );
    fc.assert(
      fc.property(one, one, fc.boolean(), ({ ...a }, b, isAlike) => {
        if (isAlike && a.identifierBits !== b.identifierBits && b.identifierBits === 29) a.identifier = b.identifier >>> 18;
        const [x, y] = [a, b].map((frame) => plainBits({ ...frame, data: bytes() }));
        const first = x!.findIndex((bit, at) => bit !== y![at]);
        expect(Math.sign(arbitrate(a, b))).toBe(first < 0 ? 0 : x![first]! < y![first]! ? -1 : 1);
      }),
    );
  });
});

describe('signals', () => {
  it('lie in their bits: little counts up, big goes down within a byte and on to bit 7 of the next', () => {
    expect(bitsOfSignal(signal({ firstBit: 4, bits: 8 }))).toEqual([4, 5, 6, 7, 8, 9, 10, 11]);
    expect(bitsOfSignal(signal({ firstBit: 3, bits: 8, order: 'big' }))).toEqual([12, 13, 14, 15, 0, 1, 2, 3]);
    expect(bitsOfSignal(signal({ firstBit: 7, bits: 16, order: 'big' }))).toEqual([8, 9, 10, 11, 12, 13, 14, 15, 0, 1, 2, 3, 4, 5, 6, 7]);
  });

  it('say what a hand calculation says', () => {
    const read = (fields: Partial<CanSignal>, ...data: number[]) => readFrame(bytes(...data), [signal(fields)]).values['speed'];
    expect(read({}, 0x34, 0x12)).toBe(0x1234);
    expect(read({ firstBit: 7, order: 'big' }, 0x12, 0x34)).toBe(0x1234);
    expect(read({ firstBit: 3, bits: 8, order: 'big' }, 0x0a, 0xb0)).toBe(0xab);
    expect(read({ signed: true }, 0xff, 0xff)).toBe(-1);
    expect(read({ factor: 0.1, offset: -40 }, 0x7d, 0x01)).toBe(-1.9);
    expect(read({ bits: 32, float: true }, 0x00, 0x00, 0x48, 0x41)).toBe(12.5);
    expect(read({ bits: 64, float: true, firstBit: 7, order: 'big' }, 0x40, 0x29, 0, 0, 0, 0, 0, 0)).toBe(12.5);
    expect(read({ bits: 64 }, 255, 255, 255, 255, 255, 255, 255, 255)).toBe('18446744073709551615');
    expect(read({ firstBit: 8 }, 1)).toBeNull();
  });

  it('that overlap, leave the frame, are called alike or are no float are told', () => {
    expect(layoutProblems([signal(), signal({ name: 'b', firstBit: 15, bits: 2 })])).toEqual(['speed and b share bit 15 (byte 1, bit 7).']);
    expect(layoutProblems([signal({ firstBit: 8 })], 2)).toEqual(['speed reaches bit 23 (byte 2, bit 7), and the frame ends with byte 1.']);
    expect(layoutProblems([signal()], 0)[0]).toContain('and the frame has no byte');
    expect(layoutProblems([signal({ firstBit: 63, bits: 2 })])[0]).toContain('reaches bit 64');
    expect(layoutProblems([signal({ firstBit: 56, bits: 9, order: 'big' })])[0]).toContain('and the frame ends with byte 7');
    expect(layoutProblems([signal(), signal({ firstBit: 32 })])).toEqual(['Two signals are called speed.']);
    expect(layoutProblems([signal({ float: true })])[0]).toContain('a floating-point number has 32 or 64');
  });

  it('that do not fit are told and left at 0; so is a name that is none', () => {
    const of = (value: unknown, fields: Partial<CanSignal> = {}) => buildFrame({ speed: value }, [signal({ bits: 8, ...fields })]);
    expect(of(255)).toEqual({ data: bytes(255), problems: [] });
    expect(of(256)).toEqual({ data: bytes(0), problems: ['speed: 256 does not fit; 8 bits hold 0 to 255.'] });
    expect(of(-129, { signed: true }).problems[0]).toContain('hold -128 to 127');
    expect(of(30, { factor: 0.1 }).problems[0]).toContain('hold 0 to 25.5');
    expect(of(12.34, { factor: 0.1 })).toEqual({ data: bytes(123), problems: [] });
    expect(of('fast').problems).toEqual(['speed: "fast" is no number.']);
    expect(of(true, { bits: 1 })).toEqual({ data: bytes(1), problems: [] });
    expect(of(null).problems[0]).toContain('is no number');
    expect(buildFrame({ other: 1 }, [signal()]).problems).toEqual(['No signal is called other.']);
    expect(buildFrame({ speed: NaN }, [signal({ float: true, bits: 32 })]).data).toEqual(bytes(0, 0, 0xc0, 0x7f));
    expect(buildFrame({ speed: '18446744073709551615' }, [signal({ bits: 64 })]).data).toEqual(new Uint8Array(8).fill(255));
  });

  it('are read as they were put, whatever lies beside them', () => {
    const layout = fc
      .array(fc.record({ bits: fc.integer({ min: 1, max: 24 }), gap: fc.nat(3), signed: fc.boolean() }), { minLength: 1, maxLength: 8 })
      .chain((parts) =>
        fc.tuple(
          fc.constant(parts),
          fc.constantFrom('little' as const, 'big' as const),
          fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
        ),
      );
    fc.assert(
      fc.property(layout, ([parts, order, numbers]) => {
        const signals: CanSignal[] = [];
        let next = 0;
        for (const [index, { bits, gap, signed }] of parts.entries()) {
          const at = next + gap;
          next = at + bits;
          if (next > 64) break;
          // Counted from the start of the frame, big goes through each byte from its highest bit.
          const firstBit = order === 'little' ? at : (at >> 3) * 8 + 7 - (at & 7);
          signals.push(signal({ name: `s${index}`, bits, firstBit, order, signed }));
        }
        expect(layoutProblems(signals)).toEqual([]);
        const values = Object.fromEntries(
          signals.map((one) => {
            const { least, most } = rangeOfSignal(one);
            return [one.name, Math.round(least + numbers.next().value * (most - least)) + 0];
          }),
        );
        const { data, problems } = buildFrame(values, signals);
        expect(problems).toEqual([]);
        expect(data.length).toBe(bytesFor(signals));
        expect(readFrame(data, signals)).toEqual({ values, problems: [] });
      }),
    );
  });
});

describe('bits on the bus', () => {
  it('are those of the standard, with one stuffed after five alike', () => {
    expect(frameBits(11, 8)).toEqual({ bits: 111, worstBits: 135 });
    expect(frameBits(29, 8)).toEqual({ bits: 131, worstBits: 160 });
    expect(frameBits(11, 0)).toEqual({ bits: 47, worstBits: 55 });
    expect(stuffedIn([0, 0, 0, 0, 0])).toBe(1);
    // The stuffed one counts with the four after it.
    expect(stuffedIn([0, 0, 0, 0, 0, 1, 1, 1, 1])).toBe(2);
    expect(stuffedIn([0, 1, 0, 1])).toBe(0);
    expect(bitsOnBus({ identifierBits: 11, identifier: 0x123, data: bytes(), isRemote: true })).toBeGreaterThanOrEqual(47);
  });

  it('have a checksum that comes to nothing over itself, and are never more than the worst', () => {
    const frame = fc.record({
      identifierBits: fc.constantFrom<IdentifierBits>(11, 29),
      identifier: fc.nat(0x7ff),
      data: fc.uint8Array({ maxLength: 8 }),
    });
    fc.assert(
      fc.property(frame, (one) => {
        let check = 0;
        for (const bit of plainBits(one)) {
          const top = ((check >> 14) ^ bit) & 1;
          check = (check << 1) & 0x7fff;
          if (top) check ^= 0x4599;
        }
        expect(check).toBe(0);
        const { bits, worstBits } = frameBits(one.identifierBits, one.data.length);
        expect(bitsOnBus(one)).toBeGreaterThanOrEqual(bits);
        expect(bitsOnBus(one)).toBeLessThanOrEqual(worstBits);
      }),
    );
  });
});

/** How late each frame is at worst, played bit time by bit time: all are wanted at once, just after the longest of less priority began. */
function played(frames: readonly TimedFrame[], own: TimedFrame, untilBits: number, bitMs: number): number {
  const length = ({ identifierBits, bytes: count }: TimedFrame) => frameBits(identifierBits, count).worstBits;
  const blocking = Math.max(0, ...frames.filter((other) => arbitrate(other, own) > 0).map(length));
  const ranked = frames.filter((other) => arbitrate(other, own) <= 0).sort(arbitrate);
  const period = (frame: TimedFrame) => Math.round(frame.periodMs / bitMs);
  const waiting = ranked.map(() => [] as number[]);
  let [freeAt, worst] = [blocking, 0];
  for (let at = 0; at < untilBits; at++) {
    ranked.forEach((frame, index) => at % period(frame) === 0 && waiting[index]!.push(at));
    if (at < freeAt) continue;
    const next = waiting.findIndex((queue) => queue.length > 0);
    if (next < 0) continue;
    const wanted = waiting[next]!.shift()!;
    freeAt = at + length(ranked[next]!);
    if (ranked[next] === own) worst = Math.max(worst, freeAt - wanted);
  }
  return worst * bitMs;
}

describe('the time of a bus', () => {
  it('is as full as its frames make it, and says where one never comes through', () => {
    const frame = (identifier: number, periodMs: number): TimedFrame => ({
      id: String(identifier),
      identifierBits: 11,
      identifier,
      bytes: 8,
      periodMs,
    });
    const { load, frames } = busTime(500_000, [frame(3, 0.5), frame(1, 0.5), frame(2, 10)]);
    expect(load).toBeCloseTo(0.27 / 0.5 + 0.27 / 0.5 + 0.027, 9);
    expect(frames.map(({ id, worstResponseMs }) => [id, worstResponseMs === null])).toEqual([
      ['3', true],
      ['1', false],
      ['2', false],
    ]);
    expect(frames[1]!.worstResponseMs).toBeCloseTo(0.54, 9);
    const late = busTime(500_000, [{ ...frame(1, 5), jitterMs: 2 }]).frames[0]!;
    expect(late.worstResponseMs).toBeCloseTo(2.27, 9);
  });

  it('is what a bus that is played bit by bit comes to at worst', () => {
    const frame = fc.record({
      identifier: fc.nat(0x7ff),
      bytes: fc.nat(8),
      periodMs: fc.constantFrom(2, 3, 4, 5, 6, 10, 12),
      identifierBits: fc.constantFrom<IdentifierBits>(11, 29),
    });
    const bitMs = 1 / 250;
    let equal = 0;
    fc.assert(
      fc.property(fc.uniqueArray(frame, { minLength: 1, maxLength: 6, selector: ({ identifier }) => identifier }), (given) => {
        const frames = given.map((one, index): TimedFrame => ({ ...one, id: String(index) }));
        const { load, frames: timed } = busTime(250_000, frames);
        if (load > 0.95) return;
        for (const [index, own] of frames.entries()) {
          const seen = played(frames, own, 60 / bitMs, bitMs);
          const { worstResponseMs } = timed[index]!;
          expect(worstResponseMs!).toBeGreaterThanOrEqual(seen - bitMs / 2);
          if (Math.abs(worstResponseMs! - seen) < bitMs / 2) equal += 1;
        }
      }),
      { numRuns: 40 },
    );
    expect(equal).withContext('responses that are as long as was calculated').toBeGreaterThan(20);
  });
});
