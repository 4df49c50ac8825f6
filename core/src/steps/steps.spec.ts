import '../formula/index.js';
import fc from 'fast-check';
import { bad, good } from '../outcome/index.js';
import type { Value } from '../value/index.js';
import {
  backThrough,
  bitsOfDestination,
  boundsThrough,
  describeStep,
  inverseChain,
  memoryOf,
  pointsOfSteps,
  runStep,
  stepKinds,
  stepOf,
  type StepSurroundings,
  Transform,
  wordsOfSource,
} from './index.js';

const ID = '019aa000-0000-7000-8000-000000000001';
const around: StepSurroundings = { nowMs: 5000, valueOf: () => good(3), isOn: () => good(true) };

/** One step of each kind that does something. */
const samples: Transform[] = [
  { kind: 'scale', factor: 0.5, offset: -40 },
  { kind: 'round', decimals: 1, direction: 'down' },
  { kind: 'clamp', low: -5, high: 120 },
  { kind: 'arithmetic', expression: '(x - 32) / 1.8' },
  { kind: 'codes', pairs: [{ from: 1, to: 10 }], otherwise: 99 },
  { kind: 'extract', at: 3, count: 5 },
  { kind: 'insert', at: 4, count: 4 },
  { kind: 'invert', count: 16 },
  { kind: 'cast', type: 'int16', past: 'wrap' },
  { kind: 'swap', what: 'words' },
  { kind: 'deadband', by: 2 },
  { kind: 'rate', perSecond: 10 },
  { kind: 'join', pointId: ID, at: 16, count: 8 },
  { kind: 'select', pointId: ID, otherwise: 7, otherwiseId: null },
  { kind: 'constant', value: 12 },
  { kind: 'beat', pattern: 'counter', everyMs: 500 },
  { kind: 'text', length: 4, pad: 'blank', side: 'right', cut: true },
];

function valueAfter(step: Transform, value: Value): Value | null {
  const ran = runStep(step, value, around);
  return ran.ok && ran.value.kind === 'value' ? ran.value.value : null;
}

describe('Steps', () => {
  it('all have a label and words of their own, and begin with fields that fit', () => {
    expect(samples.map(({ kind }) => kind)).toEqual([...stepKinds]);
    for (const step of samples) {
      expect(Transform.safeParse(step).success).withContext(step.kind).toBeTrue();
      expect(describeStep(step)).withContext(step.kind).not.toBe('');
      const { blank, points } = stepOf(step.kind);
      const chosen = { ...blank, ...Object.fromEntries(points.map(({ field }) => [field, ID])) };
      expect(Transform.safeParse(chosen).success).withContext(step.kind).toBeTrue();
    }
    expect(new Set(stepKinds.map((kind) => stepOf(kind).label)).size).toBe(stepKinds.length);
  });

  it('give no value outside the bounds that they state', () => {
    const from = { low: -1000, high: 70_000, known: true };
    for (const step of samples.filter(({ kind }) => kind !== 'text')) {
      const bounds = boundsThrough([step], from);
      fc.assert(
        fc.property(fc.integer({ min: from.low, max: from.high }), (value) => {
          const after = valueAfter(step, value);
          if (typeof after !== 'number') return;
          expect(after).withContext(step.kind).toBeGreaterThanOrEqual(bounds.low);
          expect(after).withContext(step.kind).toBeLessThanOrEqual(bounds.high);
        }),
      );
    }
  });

  it('are followed back to the value that went in, where they keep the order', () => {
    const chain: Transform[] = [
      { kind: 'scale', factor: 4, offset: 8 },
      { kind: 'clamp', low: -1000, high: 1000 },
    ];
    expect(backThrough(chain, 28)).toBe(5);
    expect(backThrough([{ kind: 'invert', count: 4 }], 3)).toBeNull();
  });

  it('undo themselves by their inverse, and say which of them cannot', () => {
    for (const step of samples) {
      const { steps, lost } = inverseChain([step]);
      expect(steps.length + lost.length).toBe(1);
      for (const back of steps) {
        expect(Transform.safeParse(back).success).withContext(step.kind).toBeTrue();
        if (step.kind === 'scale') expect(valueAfter(back, valueAfter(step, 17)!)).toBe(17);
        if (step.kind === 'invert') expect(valueAfter(back, valueAfter(step, 17)!)).toBe(17);
      }
    }
    expect(inverseChain(samples).lost).toEqual(
      jasmine.arrayWithExactContents([
        ...['text', 'beat', 'constant', 'select', 'join', 'rate', 'deadband', 'cast', 'arithmetic', 'clamp', 'round'],
      ]),
    );
  });

  it('work on registers at the two ends only', () => {
    expect(wordsOfSource([{ kind: 'swap', what: 'both' }], [0x1122, 0x3344])).toEqual([0x4433, 0x2211]);
    expect(bitsOfDestination(samples)).toEqual({ at: 4, count: 4 });
    expect(stepOf('swap').check({ kind: 'swap', what: 'words' }, 1, 2)?.message).toContain('only registers');
    expect(stepOf('insert').check({ kind: 'insert', at: 0, count: 1 }, 0, 2)?.mend).toBe('Move it to the end.');
  });

  it('name their other points, and what a proof holds there', () => {
    expect(pointsOfSteps(samples)).toEqual([
      { pointId: ID, whileProved: 0 },
      { pointId: ID, whileProved: 1 },
    ]);
  });

  it('carry nothing while the point that they need is not known', () => {
    const unknown: StepSurroundings = { nowMs: 0, valueOf: () => bad('It is not known.'), isOn: () => bad('It is not known.') };
    for (const kind of ['join', 'select'] as const) {
      const step = samples.find((sample) => sample.kind === kind)!;
      expect(runStep(step, 1, unknown).ok)
        .withContext(kind)
        .toBeFalse();
    }
  });

  it('remember the value after them where they look back', () => {
    const chain: Transform[] = [
      { kind: 'scale', factor: 2, offset: 0 },
      { kind: 'deadband', by: 5 },
    ];
    expect(memoryOf(chain, [3, 6, 6], 1234)).toEqual([undefined, { value: 6, atMs: 1234 }]);
    const [, remembered] = memoryOf(chain, [3, 6, 6], 1234);
    const held = runStep(chain[1]!, 9, around, remembered);
    expect(held.ok && held.value.kind).toBe('held');
  });
});
