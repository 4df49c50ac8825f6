import { fernhollow } from '@plain-envoy/core/demo';
import type { Quality, Reading } from '@plain-envoy/core/feed';
import type { Point } from '@plain-envoy/core/model';
import { type PlannedRequest, type PlannedRoute } from '@plain-envoy/core/plan';
import type { RequestResult } from '../client/index.js';
import { failed } from '../links/index.js';
import { RouteRun } from './route-run.js';
import { exchangePieces, type Piece, type Write, writePieces } from './write-pieces.js';
import { compile } from '@plain-envoy/core/compile';

const planned = compile(fernhollow()).plan.routes.find(({ name }) => name === 'Fan north speed')!;
const bit: Point = { ...planned.source, id: 'bit', name: 'Enable', type: 'bit', bit: 0, scale: null };

/** A route whose source and bit a test sets; what it decides at each time is told in short. */
function running(fields: Partial<PlannedRoute>) {
  const run = new RouteRun({ ...planned, carry: 'value', ...fields, others: [bit] }, 0);
  const readings = new Map<string, Reading>();
  const set = (pointId: string, word: number, quality: Quality = 'good') =>
    readings.set(pointId, { pointId, words: [word], quality, reason: quality === 'good' ? null : 'Nobody answers.', atMs: 0 });
  const unread = (pointId: string): Reading => ({ pointId, words: null, quality: 'bad', reason: null, atMs: null });
  set(planned.source.id, 100);
  const decide = (nowMs: number, isWritten = true): string => {
    const decision = run.decide((pointId) => readings.get(pointId) ?? unread(pointId), nowMs);
    if (decision.kind === 'hold' && decision.sourceAtMs !== null) return 'has it';
    if (decision.kind !== 'write') return decision.kind;
    if (isWritten) run.written(decision);
    return `${decision.isLoss ? 'loss ' : ''}${decision.words.join(' ')}`;
  };
  return {
    run,
    decide,
    source: (word: number, quality?: Quality) => set(planned.source.id, word, quality),
    bit: (on: 0 | 1) => set('bit', on),
  };
}

describe('RouteRun', () => {
  it('goes out each time its round comes, unless it is to be written only when it differs', () => {
    const each = running({});
    expect([each.decide(1), each.decide(2)]).toEqual(['100', '100']);
    const different = running({ onlyDifferent: true });
    expect([different.decide(1), different.decide(2)]).toEqual(['100', 'has it']);
    different.source(101);
    expect([different.decide(3, false), different.decide(4), different.decide(5)]).toEqual(['101', '101', 'has it']);
  });

  it('on change goes out when the value has moved by more than its deadband from what was written', () => {
    const { decide, source } = running({ trigger: { on: 'change', deadband: 0.5 } });
    expect([decide(1), decide(2)]).toEqual(['100', 'has it']);
    source(105);
    expect(decide(3)).toBe('has it');
    source(106);
    expect([decide(4), decide(5)]).toEqual(['106', 'has it']);
    source(101);
    expect(decide(6)).toBe('has it');
  });

  it('on an edge goes out once when the bit goes on, again after a write that failed, and not for a bit that was on before', () => {
    const edge = running({ trigger: { on: 'edge', pointId: 'bit' } });
    expect(edge.decide(1)).toBe('hold');
    edge.bit(1);
    expect(edge.decide(2)).toBe('hold');
    edge.bit(0);
    expect(edge.decide(3)).toBe('hold');
    edge.bit(1);
    expect([edge.decide(4, false), edge.decide(5), edge.decide(6)]).toEqual(['100', '100', 'hold']);
  });

  it('once at start goes out once', () => {
    const { decide, source } = running({ trigger: { on: 'start' } });
    expect([decide(1, false), decide(2)]).toEqual(['100', '100']);
    source(7);
    expect(decide(3)).toBe('hold');
  });

  it('only while a bit is on', () => {
    const { decide, bit: set } = running({ whileId: 'bit' });
    expect(decide(1)).toBe('hold');
    set(1);
    expect(decide(2)).toBe('100');
    set(0);
    expect(decide(3)).toBe('hold');
  });

  for (const [rule, lost] of [
    ['hold', 'bad'],
    ['value', 'loss 500'],
    ['invalid', 'bad'],
  ] as const) {
    it(`does what the rule “${rule}” says once the source has been lost for as long as it allows, and comes back`, () => {
      const { run, decide, source } = running({ loss: { rule, value: 50, validId: null, afterMs: 1000, stillMs: null } });
      expect(run.isValid(0)).toBeFalse();
      expect(decide(100)).toBe('100');
      source(100, 'bad');
      expect([decide(500), run.isValid(500)]).toEqual(['bad', true]);
      expect([decide(1099), decide(1100), run.isValid(1100)]).toEqual(['bad', lost, false]);
      source(77);
      expect([decide(2000), run.isValid(2000)]).toEqual(['77', true]);
    });
  }

  it('says what it waits for, by name, and why its source is bad', () => {
    const waits = (fields: Partial<PlannedRoute>, others = [bit]) => {
      const run = new RouteRun({ ...planned, carry: 'value', ...fields, others }, 0);
      const decision = run.decide(
        (pointId) => ({ pointId, words: pointId === 'bit' ? [0] : [100], quality: 'good', reason: null, atMs: 0 }),
        1,
      );
      return decision.kind === 'hold' ? decision.why : decision.kind;
    };
    expect(waits({ whileId: 'bit' })).toBe('It waits until Enable is on.');
    expect(waits({ trigger: { on: 'edge', pointId: 'bit' } })).toBe('It waits until Enable goes on.');
    expect(waits({ whileId: 'bit' }, [])).toBe('It waits until a point that is gone is on.');
    const run = new RouteRun(planned, 0);
    const unread = run.decide((pointId) => ({ pointId, words: null, quality: 'good', reason: null, atMs: null }), 1);
    expect(unread).toEqual({ kind: 'bad', why: `${planned.source.name} is not good: it has not been read yet.`, isFailure: false });
    const bad = run.decide((pointId) => ({ pointId, words: [1], quality: 'bad', reason: 'Nobody answers.', atMs: 0 }), 1);
    expect(bad).toEqual(jasmine.objectContaining({ why: `${planned.source.name} is not good: Nobody answers.` }));
  });

  it('goes on with what was written when it is planned anew, but not where it leads elsewhere', () => {
    const again = (fields: Partial<PlannedRoute>) => {
      const { run, decide } = running({ onlyDifferent: true });
      expect(decide(1)).toBe('100');
      run.replace({ ...planned, carry: 'value', onlyDifferent: true, others: [bit], ...fields });
      return decide(2);
    };
    expect(again({})).toBe('has it');
    expect(again({ destination: { ...planned.destination, id: 'elsewhere' } })).toBe('100');
  });

  it('begins to watch for a standstill anew where it has another source', () => {
    const loss = { rule: 'hold', value: null, validId: null, afterMs: 60_000, stillMs: 1000 } as const;
    const { run, decide } = running({ loss });
    expect([decide(0), decide(999), decide(1000)]).toEqual(['100', '100', 'bad']);
    run.replace({ ...planned, carry: 'value', loss, others: [bit], source: planned.source });
    expect(decide(1001)).toBe('bad');
    const other = running({ loss });
    expect(other.decide(0)).toBe('100');
    other.run.replace({ ...planned, carry: 'value', loss, others: [bit], source: { ...planned.source, id: 'bit' } });
    other.bit(1);
    expect(other.decide(5000)).not.toBe('bad');
  });

  it('takes a value that cannot be carried for a lost one, and says so', () => {
    const { run, source } = running({
      transforms: [{ kind: 'arithmetic', expression: '1 / x' }],
      loss: { rule: 'hold', value: null, validId: null, afterMs: 1000, stillMs: null },
    });
    source(0);
    const decision = run.decide((pointId) => ({ pointId, words: [0], quality: 'good', reason: null, atMs: 0 }), 5000);
    expect(decision).toEqual(jasmine.objectContaining({ kind: 'bad', isFailure: true }));
    expect(run.isLost(5000)).toBeTrue();
  });

  it('counts a source that stands still as lost, until it moves', () => {
    const { run, decide, source } = running({ loss: { rule: 'hold', value: null, validId: null, afterMs: 60_000, stillMs: 1000 } });
    expect([decide(0), decide(999), run.isValid(999)]).toEqual(['100', '100', true]);
    expect([decide(1000), run.isValid(1000)]).toEqual(['bad', false]);
    source(101);
    expect([decide(1500), run.isValid(1500), decide(2499), decide(2500)]).toEqual(['101', true, '101', 'bad']);
  });

  it('lets a heartbeat beat for as long as its source comes, moved or not', () => {
    const { run, decide, source } = running({
      transforms: [
        { kind: 'beat', pattern: 'counter', everyMs: 500 },
        { kind: 'scale', factor: 0.1, offset: 0 },
      ],
      loss: { rule: 'hold', value: null, validId: null, afterMs: 1000, stillMs: 1000 },
    });
    expect([decide(500), decide(1000), decide(60_000)]).toEqual(['1', '2', '120']);
    source(100, 'bad');
    expect([decide(60_500), run.isValid(60_900), run.isValid(61_100)]).toEqual(['bad', true, false]);
  });

  it('keeps what it remembers when the route is edited, as far as that still means something', () => {
    const { run, decide } = running({ onlyDifferent: true });
    decide(1);
    run.replace({ ...planned, carry: 'value', onlyDifferent: true, others: [bit] });
    expect(decide(2)).toBe('has it');
    run.replace({
      ...planned,
      carry: 'value',
      onlyDifferent: true,
      others: [bit],
      destination: { ...planned.destination, id: 'elsewhere' },
    });
    expect(decide(3)).toBe('100');
  });
});

describe('writePieces', () => {
  const request = (fields: Partial<PlannedRequest>): PlannedRequest =>
    ({
      table: 'holding',
      offset: 10,
      count: 2,
      functionCode: 16,
      functionCodes: [3, 6, 16, 22],
      partial: null,
      also: null,
      withId: null,
      release: null,
      ...fields,
    }) as PlannedRequest;
  const piece = (offset: number, words: number[], masks: number[] | null = null): Piece => ({
    ...{ table: 'holding', offset, words, masks },
    written: () => undefined,
    failed: () => undefined,
  });
  /** Runs a write against registers that a test gives; `refused` are the offsets that answer no. */
  async function write(of: PlannedRequest, pieces: Piece[], registers: Record<number, number> = {}, refused: number[] = []) {
    const asked: string[] = [];
    const done = await writePieces(of, pieces, async ({ functionCode, offset, count, values }: Write): Promise<RequestResult> => {
      asked.push(`f${functionCode} ${offset}+${count}${values ? ` ${values.map((value) => value.toString(16)).join(' ')}` : ''}`);
      if (refused.includes(offset)) return { kind: 'failed', failure: { code: 'exception', exception: 2 } };
      return values
        ? { kind: 'written' }
        : { kind: 'values', values: Array.from({ length: count }, (_, index) => registers[offset + index] ?? 0) };
    });
    return { asked, done: done.flatMap(({ pieces: some, outcome }) => some.map(({ offset }) => `${offset} ${outcome.kind}`)) };
  }

  it('writes what is known in as few stretches as there are, with the code that fits each', async () => {
    expect(await write(request({}), [piece(10, [1]), piece(11, [2])])).toEqual({
      asked: ['f16 10+2 1 2'],
      done: ['10 written', '11 written'],
    });
    expect((await write(request({ count: 3 }), [piece(10, [1]), piece(12, [3])])).asked).toEqual(['f6 10+1 1', 'f6 12+1 3']);
    expect((await write(request({ functionCodes: [3, 16] }), [piece(11, [2])])).asked).toEqual(['f16 11+1 2']);
  });

  it('leaves the bits alone that nobody owns: by a mask, or by reading first, or not at all where all are known', async () => {
    const bits = [piece(10, [0x8], [0x8]), piece(10, [0], [0x80])];
    expect((await write(request({ count: 1, functionCode: 22, partial: 'mask' }), bits)).asked).toEqual(['f22 10+1 ff77 8']);
    expect((await write(request({ count: 1, partial: 'read' }), bits, { 10: 0x1287 })).asked).toEqual(['f3 10+1', 'f6 10+1 120f']);
    const all = [piece(10, [0x00ab], [0x00ff]), piece(10, [0xcd00], [0xff00])];
    expect((await write(request({ count: 1, partial: 'read' }), all)).asked).toEqual(['f6 10+1 cdab']);
    expect((await write(request({ count: 1, partial: 'read' }), bits, {}, [10])).done).toEqual(['10 failed', '10 failed']);
  });

  it('counts a piece over two registers as written only when both are', async () => {
    const wide = [piece(10, [0, 0xab], [0xf, 0xff])];
    expect(await write(request({ functionCode: 22, partial: 'mask' }), wide, {}, [11])).toEqual({
      asked: ['f22 10+1 fff0 0', 'f22 11+1 ff00 ab'],
      done: ['10 failed'],
    });
  });

  it('exchanges in one transaction what is known whole, else writes what is known and reads by itself', async () => {
    const also = { offset: 50, count: 2 };
    const of = request({ functionCode: 23, functionCodes: [3, 6, 16, 23], also: { id: 'along', ...also } });
    const exchange = async (pieces: Piece[], outcome: RequestResult) => {
      const asked: string[] = [];
      const { done, read } = await exchangePieces(of, also, pieces, async (part) => {
        asked.push(`f${part.functionCode} ${part.offset}+${part.count}${part.also ? ` and ${part.also.offset}+${part.also.count}` : ''}`);
        return part.functionCode === 6 ? { kind: 'written' } : outcome;
      });
      return { asked, read: read.kind, done: done.flatMap(({ pieces: some, outcome: { kind } }) => some.map(() => kind)) };
    };
    const values: RequestResult = { kind: 'values', values: [1, 2] };
    expect(await exchange([piece(10, [1]), piece(11, [2])], values)).toEqual({
      asked: ['f23 10+2 and 50+2'],
      read: 'values',
      done: ['written', 'written'],
    });
    expect(await exchange([piece(11, [2])], values)).toEqual({ asked: ['f6 11+1', 'f3 50+2'], read: 'values', done: ['written'] });
    expect(await exchange([], values)).toEqual({ asked: ['f3 50+2'], read: 'values', done: [] });
    const silent = await exchange([piece(10, [1, 2])], failed({ code: 'no-answer' }));
    expect([silent.read, silent.done]).toEqual(['failed', ['failed']]);
  });

  it('sets the release before or after, and writes nothing where it is refused', async () => {
    const release = (when: 'before' | 'after') => ({ when, functionCode: 6, table: 'holding' as const, offset: 40, values: [1] });
    expect((await write(request({ release: release('before') }), [piece(10, [7, 8])])).asked).toEqual(['f6 40+1 1', 'f16 10+2 7 8']);
    expect((await write(request({ release: release('after') }), [piece(10, [7, 8])])).asked).toEqual(['f16 10+2 7 8', 'f6 40+1 1']);
    expect(await write(request({ release: release('before') }), [piece(10, [7, 8])], {}, [40])).toEqual({
      asked: ['f6 40+1 1'],
      done: ['10 failed'],
    });
    expect((await write(request({ release: release('after') }), [piece(10, [7, 8])], {}, [10])).asked).toEqual(['f16 10+2 7 8']);
  });
});
