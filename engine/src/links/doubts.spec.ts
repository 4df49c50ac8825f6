import { echoRequest } from '@plain-envoy/core/codec';
import { Doubts, type Question } from './doubts.js';

const read = (offset: number, count = 1) => Uint8Array.of(3, 0, offset, 0, count);
const readBack = (...words: number[]) => Uint8Array.of(3, 2 * words.length, ...words.flatMap((word) => [word >> 8, word & 0xff]));
const write = (offset: number, value: number) => Uint8Array.of(6, 0, offset, 0, value);
const asked = (pdu: Uint8Array, sentAt: number): Question => ({ pdu, sentAt, timeoutMs: 100 });

describe('what is in doubt about a unit', () => {
  let doubts: Doubts;
  beforeEach(() => (doubts = new Doubts()));

  it('is nothing while it answers', () => {
    expect(doubts.about(read(1), 0)).toBeNull();
    expect(doubts.judge(readBack(7), 20, asked(read(1), 0))).toEqual({ kind: 'answer' });
    expect(doubts.about(read(2), 20)).toBeNull();
    expect(doubts.judge(readBack(7), 30, null))
      .withContext('nobody asked')
      .toEqual({ kind: 'unasked' });
  });

  it('is, after a question without an answer, every question whose answer looks alike; not the same one again', () => {
    doubts.unanswered(asked(read(1), 0), 100);
    expect(doubts.about(read(2), 100)?.kind).toBe('probe');
    expect(doubts.about(read(1), 100)).toBeNull();
    expect([read(2, 2), Uint8Array.of(4, 0, 2, 0, 1), write(1, 1)].map((pdu) => doubts.about(pdu, 100))).toEqual([null, null, null]);
  });

  it('is a write whose confirmation looks alike, and none whose confirmation says another value', () => {
    doubts.unanswered(asked(write(1, 5), 0), 100);
    expect([write(1, 6), write(2, 5), read(1)].map((pdu) => doubts.about(pdu, 100))).toEqual([null, null, null]);
    const many = (value: number) => Uint8Array.of(16, 0, 1, 0, 1, 2, 0, value);
    doubts.unanswered(asked(many(5), 0), 100);
    expect(doubts.about(many(6), 100)?.kind).toBe('probe');
    expect(doubts.about(many(5), 100)).toBeNull();
  });

  it('is over when the late answer has come, which is told as late with its time', () => {
    doubts.unanswered(asked(read(1), 0), 100);
    expect(doubts.judge(readBack(7), 140, null)).toEqual({ kind: 'late', afterMs: 140 });
    expect(doubts.about(read(2), 140)).toBeNull();
  });

  it('does not end a question whose answer looks otherwise', () => {
    doubts.unanswered(asked(read(1), 0), 100);
    const current = asked(read(2, 2), 105);
    expect(doubts.judge(readBack(7), 140, current)).toEqual({ kind: 'late', afterMs: 140 });
    expect(doubts.judge(readBack(8, 9), 150, current)).toEqual({ kind: 'answer' });
  });

  it('takes a refusal that could be to either question for the earlier one’s', () => {
    doubts.unanswered(asked(read(1), 0), 100);
    const current = asked(read(2, 2), 105);
    expect(doubts.judge(Uint8Array.of(0x83, 2), 140, current).kind).toBe('late');
    expect(doubts.judge(Uint8Array.of(0x83, 2), 150, current).kind).toBe('answer');
  });

  it('takes one answer to the same question asked twice, and expects another', () => {
    doubts.unanswered(asked(read(1), 0), 100);
    const again = asked(read(1), 100);
    expect(doubts.judge(readBack(7), 140, again)).toEqual({ kind: 'answer' });
    expect(doubts.about(read(2), 140)?.kind).toBe('probe');
    expect(doubts.judge(readBack(7), 180, null)).toEqual({ kind: 'late', afterMs: 80 });
    expect(doubts.about(read(2), 180)).toBeNull();
  });

  it('takes an answer that comes sooner than the device ever answered for that to the earlier question', () => {
    doubts.judge(readBack(7), 40, asked(read(1), 0));
    doubts.unanswered(asked(read(1), 50), 150);
    const again = asked(read(1), 150);
    expect(doubts.judge(readBack(7), 160, again)).toEqual({ kind: 'late', afterMs: 110 });
    expect(doubts.judge(readBack(7), 192, again)).toEqual({ kind: 'answer' });
    expect(doubts.about(read(2), 192)).toBeNull();
  });

  it('is asked about by something whose answer cannot be mistaken: an echo, then a read of another length, in turn', () => {
    doubts.unanswered(asked(read(1), 0), 100);
    doubts.unanswered(asked(read(1, 2), 0), 100);
    const probes = [1, 2, 3, 4].map(() => doubts.about(read(2), 100)).map((doubt) => (doubt?.kind === 'probe' ? doubt.pdu : null));
    expect(probes.map((pdu) => pdu?.[0])).toEqual([8, 3, 8, 3]);
    expect(probes[1]).toEqual(read(1, 3));
    expect(probes[0]).not.toEqual(probes[2]!);
  });

  it('is, once a later question was answered, only waited for: the first time, and where answers are known to be late', () => {
    const pass = (at: number) => {
      doubts.unanswered(asked(read(1), at), at + 100);
      const probe = echoRequest(at);
      expect(doubts.judge(probe, at + 120, asked(probe, at + 100))).toEqual({ kind: 'answer' });
    };
    pass(0);
    expect(doubts.about(read(2), 120)).toEqual({ kind: 'wait', untilMs: 200 });
    expect(doubts.about(read(2), 200)).toBeNull();
    pass(1000);
    expect(doubts.about(read(2), 1120))
      .withContext('nothing came the first time')
      .toBeNull();
    doubts.unanswered(asked(read(1), 2000), 2100);
    doubts.judge(readBack(7), 2150, null);
    pass(3000);
    expect(doubts.about(read(2), 3120))
      .withContext('one came late since')
      .toEqual({ kind: 'wait', untilMs: 3200 });
  });

  it('is given up after ten timeouts', () => {
    doubts.unanswered(asked(read(1), 0), 100);
    expect(doubts.about(read(2), 999)?.kind).toBe('probe');
    expect(doubts.about(read(2), 1000)).toBeNull();
  });
});
