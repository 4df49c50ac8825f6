import type { Transform } from '../model/index.js';

/** The step that undoes this one; null where what it took away cannot be brought back. */
export function inverseStep(step: Transform): Transform | null {
  switch (step.kind) {
    case 'scale':
      return { kind: 'scale', factor: tidy(1 / step.factor), offset: tidy(-step.offset / step.factor) };
    case 'codes': {
      const pairs = step.pairs.map(({ from, to }) => ({ from: to, to: from }));
      return new Set(pairs.map(({ from }) => from)).size === pairs.length ? { kind: 'codes', pairs, otherwise: null } : null;
    }
    case 'extract':
      return { ...step, kind: 'insert' };
    case 'insert':
      return { ...step, kind: 'extract' };
    case 'invert':
    case 'swap':
      return step;
    default:
      return null;
  }
}

/** The chain the other way round, as far as its steps can be undone, and the kinds of those that cannot. */
export function inverseChain(steps: readonly Transform[]): { steps: Transform[]; lost: Transform['kind'][] } {
  const back = [...steps].reverse().map((step) => ({ step, inverse: inverseStep(step) }));
  return { steps: back.flatMap(({ inverse }) => inverse ?? []), lost: back.flatMap(({ step, inverse }) => (inverse ? [] : [step.kind])) };
}

function tidy(value: number): number {
  return Number(value.toPrecision(12));
}
