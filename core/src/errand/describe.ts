import type { Comparison, ErrandStep, ErrandStepKind } from '../model/index.js';

export const stepKindNames: Readonly<Record<ErrandStepKind, string>> = {
  write: 'write',
  wait: 'wait until',
  compare: 'check that',
  read: 'read',
  pause: 'pause',
  repeat: 'repeat',
  end: 'end',
};

export const comparisonNames: Readonly<Record<Comparison, string>> = {
  equals: 'is',
  differs: 'is not',
  above: 'is above',
  below: 'is below',
  has: 'has on',
  lacks: 'has off',
};

/** Each kind of step as it begins. */
export function blankErrandStep(kind: ErrandStepKind, pointId: string): ErrandStep {
  switch (kind) {
    case 'write':
      return { kind, pointId, value: '', broadcast: false };
    case 'wait':
      return { kind, pointId, is: 'equals', value: '', withinMs: 5000 };
    case 'compare':
      return { kind, pointId, is: 'equals', value: '', sameAsId: null, else: null };
    case 'read':
      return { kind, pointId };
    case 'pause':
      return { kind, ms: 500 };
    case 'repeat':
      return { kind, from: 1, times: 1 };
    case 'end':
      return { kind };
  }
}

/** A step in words; `nameOf` names a point. */
export function describeErrandStep(step: ErrandStep, nameOf: (pointId: string) => string): string {
  switch (step.kind) {
    case 'write':
      return `write “${step.value}” to ${nameOf(step.pointId)}${step.broadcast ? ' of every unit of its line' : ''}`;
    case 'wait':
      return `wait until ${nameOf(step.pointId)} ${comparisonNames[step.is]} ${step.value}, at most ${step.withinMs} ms`;
    case 'compare': {
      const other = step.sameAsId ? `as ${nameOf(step.sameAsId)}` : step.value;
      return `check that ${nameOf(step.pointId)} ${comparisonNames[step.is]} ${other}${step.else ? `, else go to ${step.else}` : ''}`;
    }
    case 'read':
      return `read ${nameOf(step.pointId)}`;
    case 'pause':
      return `pause ${step.ms} ms`;
    case 'repeat':
      return `go back to ${step.from}, ${step.times} times`;
    case 'end':
      return 'end';
  }
}
