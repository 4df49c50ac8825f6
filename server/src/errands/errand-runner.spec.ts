import type { Batch, Reading } from '@plain-envoy/core/feed';
import type { ErrandRun } from '@plain-envoy/core/errand';
import type { Errand, Point } from '@plain-envoy/core/model';
import { SmallProject } from '@plain-envoy/core/testing';
import type { Bench } from '../bench/index.js';
import type { Evidence } from '../evidence/index.js';
import { ProblemError, refuse } from '../problem/index.js';
import { ErrandRunner } from './errand-runner.js';

/** A bench that holds words by point, and does nothing else. */
class HeldWords {
  readonly words = new Map<string, number[]>();
  state = { running: true, projectId: '' as string | null };
  refuses: string | null = null;
  /** Resolves the next read; null where reads are answered at once. */
  held: (() => void)[] | null = null;

  async read(_projectId: string, point: Point): Promise<number[]> {
    if (this.held) await new Promise<void>((done) => this.held!.push(done));
    if (this.refuses) refuse('not-now', this.refuses);
    return this.words.get(point.id) ?? [0];
  }

  writePoint(_projectId: string, point: Point, words: number[]): Promise<void> {
    this.words.set(point.id, words);
    return Promise.resolve();
  }
}

describe('ErrandRunner', () => {
  let small: SmallProject;
  let bench: HeldWords;
  let told: ErrandRun[];
  let kept: { of: string; body: ErrandRun }[];
  let runner: ErrandRunner;
  let bit: Point;
  let source: Point;

  const turn = () => new Promise<void>((done) => setImmediate(done));
  const held = () => ({ document: small.document, revision: 4, undo: null, redo: null });
  const last = (errand: Errand) => kept.filter(({ of }) => of === errand.id).at(-1)?.body;
  const refusedWith = (work: () => unknown) => {
    try {
      work();
      return null;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      return error.problem.message;
    }
  };
  function errand(name: string, fields: Partial<Errand> = {}): Errand {
    const made: Errand = {
      ...{ id: small.device(`for ${name}`).id, projectId: small.document.project.id, name, note: '' },
      ...{ trigger: { on: 'hand' }, overlaps: false, steps: [{ kind: 'read', pointId: source.id }] },
      ...fields,
    } as Errand;
    small.document.errands.push(made);
    return made;
  }
  const reading = (point: Point, word: number, quality: Reading['quality'] = 'good'): Batch => ({
    readings: [{ pointId: point.id, words: [word], quality, reason: null, atMs: 0 }],
    ...{ routes: [], devices: [], requests: [] },
  });
  async function take(...batches: Batch[]): Promise<void> {
    for (const batch of batches) {
      runner.take(batch);
      await turn();
    }
  }

  beforeEach(() => {
    small = new SmallProject();
    const device = small.device('Display');
    source = small.point(device, 'Status');
    bit = small.point(device, 'Start', { offset: 1, bit: 3, type: 'bit' });
    bench = new HeldWords();
    bench.state.projectId = small.document.project.id;
    [told, kept] = [[], []];
    const evidence = {
      keep: (_projectId: string, _kind: string, of: string, _revision: number, body: ErrandRun) => {
        kept.push({ of, body: structuredClone(body) });
        return Promise.resolve();
      },
    };
    runner = new ErrandRunner({
      bench: bench as unknown as Bench,
      evidence: evidence as unknown as Evidence,
      project: () => Promise.resolve(held()),
      tell: (run) => told.push(structuredClone(run)),
    });
  });

  it('runs the steps of an errand, tells how it goes on, and keeps how it ended', async () => {
    const own = errand('Look');
    const run = runner.start(held(), own.id, 'Ms Miller');
    expect([run.state, run.startedBy, runner.list().length]).toEqual(['runs', 'Ms Miller', 1]);
    await turn();
    expect(last(own)).toEqual(jasmine.objectContaining({ state: 'done', name: 'Look' }));
    expect(last(own)!.steps.length).toBe(1);
    expect(told.map(({ state }) => state)).toEqual(['runs', 'runs', 'done']);
    expect(runner.list()).toEqual([]);
  });

  it('fails with what the bench says, and goes on with the next', async () => {
    const own = errand('Look');
    bench.refuses = 'Display does not answer.';
    runner.start(held(), own.id, 'by hand');
    await turn();
    expect([last(own)!.state, last(own)!.sentence]).toEqual(['failed', jasmine.stringContaining('Display does not answer.')]);
    bench.refuses = null;
    runner.start(held(), own.id, 'by hand');
    await turn();
    expect(last(own)!.state).toBe('done');
  });

  it('does not start what is gone, where the bench does not run, or beside one on the same device', async () => {
    const [own, other] = [errand('Look'), errand('Look again')];
    expect(refusedWith(() => runner.start(held(), 'gone', 'x'))).toBe('This errand is not in the project.');
    bench.held = [];
    runner.start(held(), own.id, 'x');
    expect(refusedWith(() => runner.start(held(), own.id, 'x'))).toBe('Look runs already; it runs to its end first.');
    expect(refusedWith(() => runner.start(held(), other.id, 'x'))).toBe('Look works on Display, and only one errand may at a time.');
    const far = small.point(small.device('Other'), 'Far');
    expect(
      refusedWith(() => runner.start(held(), errand('Elsewhere', { steps: [{ kind: 'read', pointId: far.id }] } as never).id, 'x')),
    ).toBeNull();
    expect(refusedWith(() => runner.start(held(), errand('Beside', { overlaps: true }).id, 'x'))).toContain(
      'only one errand may at a time',
    );
    bench.state.running = false;
    expect(refusedWith(() => runner.start(held(), other.id, 'x'))).toBe('The bench does not run this project.');
    for (const go of bench.held) go();
    await turn();
  });

  it('lets those run side by side that both may', async () => {
    const [a, b] = [errand('A', { overlaps: true }), errand('B', { overlaps: true })];
    bench.held = [];
    runner.start(held(), a.id, 'x');
    expect(refusedWith(() => runner.start(held(), b.id, 'x'))).toBeNull();
    for (const go of bench.held) go();
    await turn();
    expect([last(a)!.state, last(b)!.state]).toEqual(['done', 'done']);
  });

  it('is set off by a bit that rises, and by nothing else', async () => {
    const own = errand('On start', { trigger: { on: 'edge', pointId: bit.id } });
    await take(reading(bit, 0b1000), reading(bit, 0b1000), reading(bit, 0));
    expect(kept).withContext('on from the beginning, then off').toEqual([]);
    await take(reading(bit, 0b1000, 'bad'), reading(bit, 0b0111), reading(source, 0b1000));
    expect(kept).withContext('bad, other bits, and another point').toEqual([]);
    await take(reading(bit, 0b1001));
    expect(kept.length).toBe(1);
    expect(last(own)!.startedBy).toBe('Start went on');
    await take(reading(bit, 0b1000), reading(bit, 0), reading(bit, 0b1000));
    expect(kept.length).toBe(2);
  });

  it('is set off by a value that changes, in either direction', async () => {
    const own = errand('On change', { trigger: { on: 'change', pointId: source.id } });
    await take(reading(source, 5), reading(source, 5), reading(source, 6), reading(source, 5));
    expect(kept.length).toBe(2);
    expect(last(own)!.startedBy).toBe('Status changed');
  });

  it('keeps that it could not run where it was set off and may not', async () => {
    const own = errand('On change', { trigger: { on: 'change', pointId: source.id } });
    bench.held = [];
    await take(reading(source, 1), reading(source, 2), reading(source, 3));
    expect(last(own)).toEqual(
      jasmine.objectContaining({ state: 'failed', startedBy: 'Status set it off', sentence: jasmine.stringContaining('runs already') }),
    );
    for (const go of bench.held) go();
    await turn();
  });

  it('takes no notice while the bench does not run, and begins anew after it was stopped', async () => {
    errand('On change', { trigger: { on: 'change', pointId: source.id } });
    await take(reading(source, 1));
    bench.state.running = false;
    await take(reading(source, 2));
    bench.state.running = true;
    runner.clear();
    await take(reading(source, 3));
    expect(kept).toEqual([]);
    await take(reading(source, 4));
    expect(kept.length).toBe(1);
  });

  it('is stopped by a person, and by the end of the bench', async () => {
    const wait = { kind: 'wait', pointId: source.id, is: 'equals', value: '7', withinMs: 60_000 };
    const own = errand('Wait', { steps: [wait] } as never);
    const run = runner.start(held(), own.id, 'x');
    await turn();
    runner.stop(run.id);
    while (!last(own)) await turn();
    expect(last(own)!.state).toBe('stopped');
    runner.start(held(), own.id, 'x');
    await turn();
    runner.clear();
    while (kept.length < 2) await turn();
    expect(last(own)!.state).toBe('stopped');
  });
});
