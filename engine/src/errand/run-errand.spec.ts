import { fernhollow } from '@plain-envoy/core/demo';
import type { StepRun } from '@plain-envoy/core/errand';
import { type ErrandStep, type Point, wordsFromInput } from '@plain-envoy/core/model';
import { runErrand } from './index.js';
import { type Outcome } from '@plain-envoy/core/outcome';

const demo = fernhollow();
const named = (name: string) => demo.points.find((point) => point.name === name)!;

describe('an errand as it runs', () => {
  let held: Map<string, number[]>;
  let written: string[];
  let told: StepRun[];
  let stop: AbortController;
  const hold = (point: Point, text: string) => {
    const words = wordsFromInput(text, point);
    if (words.ok) held.set(point.id, words.value);
  };
  const run = async (...steps: ErrandStep[]) => {
    const end = await runErrand(
      { steps },
      {
        point: (id) => demo.points.find((point) => point.id === id),
        read: (point): Promise<Outcome<number[]>> => {
          const words = held.get(point.id);
          return Promise.resolve(words ? { ok: true, value: words } : { ok: false, problem: { message: 'it does not answer.', path: [] } });
        },
        write: (point, words) => {
          written.push(`${point.name} ${words.join(' ')}`);
          held.set(point.id, [...words]);
          return Promise.resolve({ ok: true, value: null });
        },
      },
      stop.signal,
      (step) => told.push(step),
    );
    return [end.ok, end.sentence];
  };
  const [command, status, speed] = [named('Command word'), named('Status word'), named('Actual speed')];

  beforeEach(() => {
    [held, written, told, stop] = [new Map(), [], [], new AbortController()];
  });

  it('goes on at another step where a check is not met, and fails where none is named', async () => {
    hold(status, 'fault');
    const check = (otherwise: number | null): ErrandStep => ({
      ...{ kind: 'compare', pointId: status.id, is: 'lacks', value: 'fault', sameAsId: null, else: otherwise },
    });
    const steps: ErrandStep[] = [{ kind: 'end' }, { kind: 'write', pointId: command.id, value: 'reset a fault', broadcast: false }];
    expect(await run(check(3), ...steps)).toEqual([true, 'It ran to its end.']);
    expect([written, told.map(({ step }) => step)]).toEqual([['Command word 128'], [1, 3]]);
    expect(await run(check(null), ...steps)).toEqual([false, 'Step 1: Status word is fault; it should have off fault.']);
  });

  it('goes back as often as it says, and not for ever', async () => {
    const write: ErrandStep = { kind: 'write', pointId: command.id, value: '1', broadcast: false };
    await run(write, { kind: 'repeat', from: 1, times: 3 });
    expect(written.length).toBe(4);
    hold(status, 'ready');
    const always: ErrandStep = { kind: 'compare', pointId: status.id, is: 'lacks', value: 'ready', sameAsId: null, else: 1 };
    expect((await run(always))[1]).toContain('went round for 10000 steps');
  });

  it('waits until a value is there, and says what was there instead', async () => {
    hold(status, 'ready');
    const wait: ErrandStep = { kind: 'wait', pointId: status.id, is: 'has', value: 'running', withinMs: 150 };
    expect(await run(wait)).toEqual([false, 'Step 1: Status word did not become so within 150 ms; it is ready.']);
    const going = run({ ...wait, withinMs: 5000 });
    hold(status, 'ready, running');
    expect((await going)[0]).toBeTrue();
    expect(await run({ ...wait, pointId: speed.id })).toEqual([
      false,
      'Step 1: Actual speed did not become so within 150 ms; it does not answer.',
    ]);
  });

  it('compares two points with each other', async () => {
    hold(speed, '41.2');
    const other = named('Kiln air-on temperature');
    hold(other, '41.2');
    const same: ErrandStep = { kind: 'compare', pointId: speed.id, is: 'equals', value: '', sameAsId: other.id, else: null };
    expect((await run(same))[0]).toBeTrue();
    hold(other, '40');
    expect((await run(same))[1]).toBe('Step 1: Actual speed is 41.2 Hz; it should be 40.0.');
  });

  it('ends at once when it is stopped, and names a point that is gone', async () => {
    const going = run({ kind: 'pause', ms: 60_000 }, { kind: 'read', pointId: speed.id });
    stop.abort();
    expect(await going).toEqual([false, 'It was stopped.']);
    stop = new AbortController();
    expect(await run({ kind: 'read', pointId: 'gone' })).toEqual([false, 'Step 1: Its point is gone from the project.']);
    expect(await run({ kind: 'write', pointId: command.id, value: 'humming', broadcast: false })).toEqual([
      false,
      jasmine.stringContaining('Step 1: ') as never,
    ]);
  });
});
