import { tcpFrame } from '../codec/index.js';
import { requestPdu } from '../frame/index.js';
import { recordedExchange } from '../testing/index.js';
import { type Recorded, recordedIn, type Reel, reelOf, Replay, speakersIn } from './index.js';

const who: Recorded = { endpointId: '10.1.1.9:502', unit: 1 };
const asks = (offset: number, count: number) => requestPdu({ functionCode: 3, offset, count });
const refused = { end: 'refused' as const, got: tcpFrame(1, { unit: 1, pdu: Uint8Array.of(0x83, 2) }), ms: 4 };

function made(...records: Parameters<typeof reelOf>[0]): Reel {
  const reel = reelOf(records, who);
  if (!reel.ok) throw new Error(reel.problem.message);
  return reel.value;
}

/** The registers of one who plays this. */
function player(reel: Reel) {
  const registers = new Map<number, number>();
  const replay = new Replay(reel);
  const go = (ms: number) =>
    replay.advance(ms, (_table, offset, values) => values.forEach((value, at) => registers.set(offset + at, value)));
  go(0);
  return { replay, registers, go };
}

describe('A recording that is played', () => {
  it('has the values at their times, and begins anew when all was played', () => {
    const { replay, registers, go } = player(
      made(...[10, 20, 30].map((value, at) => recordedExchange({ atMs: 7000 + at * 1000 }, 5, [value, 1]))),
    );
    const seen = [registers.get(5)];
    for (let tenth = 0; tenth < 40; tenth++) {
      go(100);
      if (seen.at(-1) !== registers.get(5)) seen.push(registers.get(5));
    }
    expect(seen).toEqual([10, 20, 30, 10, 20]);
    expect(replay.at).toEqual({ atMs: 1000, lastsMs: 3000, round: 2 });
    expect(replay.extents).toEqual({ holding: [[5, 6]] });
  });

  it('refuses and is silent where the device was, for as long as it was', () => {
    const { replay, go } = player(
      made(
        recordedExchange({ atMs: 0 }, 5, [1]),
        recordedExchange({ atMs: 100, ...refused }, 40, [0]),
        recordedExchange({ atMs: 1000, end: 'silent', got: null, ms: 500 }, 5, [1]),
        recordedExchange({ atMs: 2000, ms: 33 }, 5, [2]),
      ),
    );
    expect(replay.answerTo(asks(5, 1))).toEqual({ kind: 'registers', ms: 12, bytes: 23 });
    expect(replay.answerTo(asks(40, 1))).toEqual({ kind: 'words', pdu: Uint8Array.of(0x83, 2), ms: 4, bytes: 21 });
    go(1000);
    expect(replay.answerTo(asks(5, 1))).toEqual({ kind: 'silent' });
    go(1000);
    expect(replay.answerTo(asks(5, 1))).toEqual(jasmine.objectContaining({ kind: 'registers', ms: 33 }));
    expect(replay.answerTo(asks(6, 1)).kind)
      .withContext('never asked in it')
      .toBe('registers');
  });

  it('takes what a master writes for the same question, whatever the value', () => {
    const { replay, registers } = player(made(recordedExchange({ atMs: 0 }, 9, [], [77])));
    expect(registers.get(9)).toBe(77);
    expect(replay.answerTo(requestPdu({ functionCode: 6, offset: 9, count: 1, values: [5] })).kind).toBe('registers');
  });

  it('is told by who answers in it', () => {
    const records = [
      recordedExchange({ atMs: 0 }, 5, [1]),
      recordedExchange({ atMs: 1, unit: 2 }, 5, [1]),
      recordedExchange({ atMs: 2, unit: 2 }, 5, [1]),
      recordedExchange({ atMs: 3, unit: 3, end: 'silent', got: null }, 5, [1]),
    ];
    expect(speakersIn(records).map(({ unit, answered }) => [unit, answered])).toEqual([
      [2, 2],
      [1, 1],
    ]);
    const problem = (reel: ReturnType<typeof reelOf>) => (reel.ok ? '' : reel.problem.message);
    expect(problem(reelOf(records, { ...who, unit: 9 }))).toContain('Nothing in this recording was asked of 10.1.1.9:502, unit 9');
    expect(problem(reelOf(records, { ...who, unit: 3 }))).toContain('never answered');
    expect(problem(reelOf([{ ...records[0]!, atMs: null }], who))).toContain('has no times');
    expect(problem(recordedIn(null, { ...who, file: 'a.pcapng' }))).toBe(
      'The recording “a.pcapng” is not attached to this device any more.',
    );
    expect(problem(recordedIn(Uint8Array.of(1, 2), { ...who, file: 'a' }))).toContain('No frame of a serial line');
  });
});
