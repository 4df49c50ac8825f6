import { fernhollow } from '../demo/index.js';
import { Errand, type ErrandStep, type Point, pointsOfErrand } from '../model/index.js';
import { blankErrandStep, describeErrandStep, meets, stepKindNames } from './index.js';

const demo = fernhollow();
const named = (name: string) => demo.points.find((point) => point.name === name)!;
const is = (words: number[], point: Point, comparison: Parameters<typeof meets>[2], stated: string) => {
  const met = meets(words, point, comparison, stated);
  return met.ok ? met.value : met.problem.message;
};

describe('what an errand waits for', () => {
  const temperature = named('Kiln air-on temperature');
  const status = named('Status word');

  it('is compared in units, by name, or by bits', () => {
    expect([is([615], temperature, 'equals', '61,5'), is([616], temperature, 'equals', '61.5')]).toEqual([true, false]);
    expect([is([616], temperature, 'differs', '61.5'), is([616], temperature, 'above', '61.5')]).toEqual([true, true]);
    expect([is([0xfff6], temperature, 'below', '0'), is([10], temperature, 'below', '0')]).toEqual([true, false]);
    expect([is([0b11], status, 'has', 'ready, on'), is([0b01], status, 'has', 'ready, on')]).toEqual([true, false]);
    expect([is([0b01], status, 'lacks', '3'), is([0b1000], status, 'lacks', 'fault')]).toEqual([true, false]);
    expect(is([7], named('Fault code'), 'equals', 'no communication')).toBeTrue();
  });

  it('is a bit of a register at its place', () => {
    const bit = demo.points.find((point) => point.bit === 9)!;
    expect([is([1 << 9], bit, 'equals', 'on'), is([1 << 8], bit, 'equals', 'on'), is([1 << 9], bit, 'has', '')]).toEqual([
      true,
      false,
      true,
    ]);
  });

  it('is refused with the reason where it makes no sense', () => {
    expect(is([1], temperature, 'above', '')).toBe('“” is no number.');
    expect(is([1], temperature, 'equals', 'warm')).toContain('no number');
    expect(is([1], status, 'has', 'humming')).toBe('“humming” is no bit of Status word.');
  });
});

describe('an errand', () => {
  const [errand] = demo.errands;
  const problem = (steps: ErrandStep[]) =>
    Errand.safeParse({ ...errand!, steps }).error?.issues.map(({ path, message }) => `${path.join('.')} ${message}`);

  it('is told step by step, whatever kinds it has', () => {
    const nameOf = (id: string) => demo.points.find((point) => point.id === id)?.name ?? '?';
    expect(errand!.steps.map((step) => describeErrandStep(step, nameOf))).toEqual([
      'read Batch number',
      'write “Batch {1} is ready” to Text',
      'pause 300 ms',
      'wait until Status word has on ready, at most 5000 ms',
      'check that Reply is as Text',
    ]);
    for (const kind of Object.keys(stepKindNames) as ErrandStep['kind'][]) {
      const blank = blankErrandStep(kind, named('Text').id);
      expect(problem(kind === 'repeat' ? [errand!.steps[0]!, blank] : [blank]))
        .withContext(kind)
        .toBeUndefined();
      expect(describeErrandStep(blank, nameOf).length).toBeGreaterThan(2);
    }
  });

  it('names the points that it works with, its trigger among them', () => {
    const names = pointsOfErrand(errand!).map((id) => demo.points.find((point) => point.id === id)!.name);
    expect(names).toEqual(['Batch is ready', 'Batch number', 'Text', 'Status word', 'Reply']);
  });

  it('goes only to steps that are there, and back only to those before', () => {
    const compare = { ...blankErrandStep('compare', named('Text').id), else: 5 } as ErrandStep;
    expect(problem([compare])).toEqual(['steps.0.else There are only 1 steps.']);
    expect(problem([{ kind: 'repeat', from: 1, times: 2 }])).toEqual(['steps.0.from It goes back, to a step before 1.']);
  });
});
