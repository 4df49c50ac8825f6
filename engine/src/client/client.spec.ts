import type { Failure } from '@plain-envoy/core/failure';
import { type ClientTransport, type Exchange, failed, type Telling } from '../links/index.js';
import { ask, failureText, type RequestResult } from './index.js';

/** Ends its exchanges as it is told, one after the other, and remembers how it was asked. */
class Scripted implements ClientTransport {
  readonly asked: { unit: number; functionCode: number; timeoutMs: number }[] = [];

  constructor(private readonly ends: readonly Exchange[]) {}

  exchange(unit: number, pdu: Uint8Array, timeoutMs: number): Promise<Exchange> {
    const end = this.ends[this.asked.length]!;
    this.asked.push({ unit, functionCode: pdu[0]!, timeoutMs });
    return Promise.resolve(end);
  }

  tell(unit: number, pdu: Uint8Array, timeoutMs: number): Promise<Telling> {
    this.asked.push({ unit, functionCode: pdu[0]!, timeoutMs });
    return Promise.resolve({ kind: 'sent' });
  }

  close(): void {
    this.asked.length = 0;
  }
}

const request = { unitId: 9, functionCode: 3, offset: 40, count: 1, timeoutMs: 60, tries: 3 } as const;
const answer = (...pdu: number[]): Exchange => ({ kind: 'answer', pdu: Uint8Array.from(pdu) });
const sound = answer(3, 2, 0x12, 0x34);
const exception = (code: number) => answer(0x83, code);
const times = (count: number, end: Exchange) => Array.from({ length: count }, () => end);

async function asking(...ends: Exchange[]): Promise<{ result: RequestResult; asked: Scripted['asked'] }> {
  const transport = new Scripted(ends);
  return { result: await ask(transport, request), asked: transport.asked };
}

describe('ask', () => {
  it('asks once where the answer is sound, with the time and the unit that were asked for', async () => {
    const { result, asked } = await asking(sound);
    expect(result).toEqual({ kind: 'values', values: [0x1234] });
    expect(asked).toEqual([{ unit: 9, functionCode: 3, timeoutMs: 60 }]);
  });

  const again: Failure[] = [
    { code: 'no-answer' },
    { code: 'no-frame', bytes: 3 },
    { code: 'half-answer', bytes: 5, of: 9 },
    { code: 'wrong-unit', asked: 9, got: 8 },
    { code: 'not-modbus-tcp' },
  ];
  for (const failure of again)
    it(`asks again after ${failure.code}, and takes the answer that comes then`, async () => {
      const { result, asked } = await asking(failed(failure), failed(failure), sound);
      expect(result).toEqual({ kind: 'values', values: [0x1234] });
      expect(asked.map(({ timeoutMs }) => timeoutMs)).toEqual([60, 60, 60]);
    });

  it('asks again after an answer whose bytes make no sense', async () => {
    const { result, asked } = await asking(answer(3, 4, 0, 1), answer(4, 2, 0, 1), sound);
    expect([result.kind, asked.length]).toEqual(['values', 3]);
  });

  it('asks as often as it may and no more, and ends as the last try ended', async () => {
    const { result, asked } = await asking(...times(2, failed({ code: 'no-answer' })), failed({ code: 'no-frame', bytes: 3 }), sound);
    expect(result).toEqual(failed({ code: 'no-frame', bytes: 3 }));
    expect(asked.length).toBe(3);
  });

  it('takes an exception for the answer, but for a gateway’s that nothing came', async () => {
    for (const code of [1, 2, 3, 4, 5, 6, 10]) {
      const { result, asked } = await asking(exception(code), sound, sound);
      expect([result, asked.length])
        .withContext(`exception ${code}`)
        .toEqual([failed({ code: 'exception', exception: code }), 1]);
    }
    expect((await asking(exception(11), sound)).result).toEqual({ kind: 'values', values: [0x1234] });
    expect((await asking(...times(3, exception(11)), sound)).result).toEqual(failed({ code: 'exception', exception: 11 }));
  });

  it('does not ask again where there is no connection', async () => {
    for (const failure of [{ code: 'refused-connection', host: '10.40.8.9', port: 502 }, { code: 'closed' }, { code: 'broken' }] as const) {
      const { result, asked } = await asking(failed(failure), sound);
      expect([result, asked.length])
        .withContext(failure.code)
        .toEqual([failed(failure), 1]);
    }
  });

  it('tells of each single try how it ended and how long it took', async () => {
    spyOn(performance, 'now').and.returnValues(1000, 1060, 2000, 2005, 3000, 3012);
    const heard: [string, number][] = [];
    await ask(
      new Scripted([failed({ code: 'no-answer' }), failed({ code: 'no-frame', bytes: 1 }), sound]),
      request,
      (outcome, ms, frames) => {
        heard.push([outcome.kind === 'failed' ? outcome.failure.code : outcome.kind, ms]);
        expect(frames).toEqual({ sent: null, got: null });
      },
    );
    expect(heard).toEqual([
      ['no-answer', 60],
      ['no-frame', 5],
      ['values', 12],
    ]);
  });

  it('has no answer where it may not ask at all', async () => {
    expect(await ask(new Scripted([]), { ...request, tries: 0 })).toEqual(failed({ code: 'no-answer' }));
  });

  it('is said in a sentence', () => {
    expect(failureText({ kind: 'written' })).toBe('It answered something else.');
    expect(failureText(failed({ code: 'no-answer' }))).toBe('It does not answer.');
    expect(failureText(failed({ code: 'exception', exception: 3 }))).toBe('It answers exception 3.');
  });
});
