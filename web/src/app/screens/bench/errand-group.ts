import { FormArray, FormGroup } from '@angular/forms';
import { blankErrandStep } from '@plain-envoy/core/errand';
import type { Comparison, Errand, ErrandStep, ErrandStepKind } from '@plain-envoy/core/model';
import { controlOf, textControl } from '../../parts/controls';
import { numberOrNone, typedNumber } from '../../parts/form';

export type StepGroup = ReturnType<typeof stepGroup>;
export type ErrandGroup = ReturnType<typeof errandGroup>;

/** The controls of an errand. */
export function errandGroup({ name, trigger, overlaps, steps }: Errand) {
  return new FormGroup({
    name: textControl(name),
    trigger: new FormGroup({
      on: controlOf(trigger.on),
      pointId: controlOf(trigger.on === 'hand' ? null : trigger.pointId),
    }),
    overlaps: controlOf(overlaps),
    steps: new FormArray(steps.map(stepGroup)),
  });
}

/** The controls of a step: of all that a step of any kind may have, so that it is one kind of row. */
export function stepGroup(step: ErrandStep) {
  const has: Partial<Record<string, unknown>> = step;
  const text = (field: string) => textControl((has[field] ?? null) as string | number | null);
  return new FormGroup({
    kind: controlOf(step.kind),
    pointId: controlOf((has['pointId'] ?? null) as string | null),
    is: controlOf((has['is'] ?? 'equals') as Comparison),
    sameAsId: controlOf((has['sameAsId'] ?? null) as string | null),
    value: text('value'),
    broadcast: controlOf(has['broadcast'] === true),
    withinMs: text('withinMs'),
    else: text('else'),
    ms: text('ms'),
    from: text('from'),
    times: text('times'),
  });
}

/** What stands in the controls, as the errand that its schema is asked. */
export function errandOf(before: Errand, { name, trigger, overlaps, steps }: ReturnType<ErrandGroup['getRawValue']>): object {
  const pointId = trigger.pointId ?? '';
  return {
    ...before,
    ...{ name, overlaps },
    trigger: trigger.on === 'hand' ? { on: trigger.on } : { on: trigger.on, pointId },
    steps: steps.map(stepOf),
  };
}

/** A step as its kind has it. */
export function stepOf(typed: ReturnType<StepGroup['getRawValue']>): ErrandStep {
  const fields = Object.keys(blankErrandStep(typed.kind, '')) as (keyof typeof typed)[];
  return Object.fromEntries(fields.map((field) => [field, valueOf(field, typed)])) as ErrandStep;
}

export function hasPoint(kind: ErrandStepKind): boolean {
  return 'pointId' in blankErrandStep(kind, '');
}

function valueOf(field: keyof ReturnType<StepGroup['getRawValue']>, typed: ReturnType<StepGroup['getRawValue']>): unknown {
  switch (field) {
    case 'pointId':
      return typed.pointId ?? '';
    case 'else':
      return numberOrNone(typed.else);
    case 'withinMs':
    case 'ms':
    case 'from':
    case 'times':
      return typedNumber(typed[field]);
    default:
      return typed[field];
  }
}
