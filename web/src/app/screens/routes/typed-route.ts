import type { Carry, Route } from '@plain-envoy/core/model';
import { typedNumber } from '../../parts/form';
import { typedOf, valueOf } from '../../parts/schema-fields';
import { schemaOf, type TypedStep } from './step-list';
import { type Transform } from '@plain-envoy/core/steps';

/** A route as it stands in its form, numbers as they were typed. */
export interface TypedRoute {
  name: string;
  carry: Carry;
  roundId: string;
  carrierId: string | null;
  steps: readonly TypedStep[];
  triggerOn: Route['trigger']['on'];
  deadband: string;
  edgeId: string | null;
  whileId: string | null;
  onlyDifferent: boolean;
  broadcast: boolean;
  releaseId: string | null;
  releaseValue: string;
  releaseWhen: 'before' | 'after';
  lossRule: Route['loss']['rule'];
  lossValue: string;
  validId: string | null;
  lostAfterMs: string;
  stillMs: string;
}

export function typedRoute(route: Route): TypedRoute {
  const { name, carry, roundId, carrierId, transforms, trigger, whileId, onlyDifferent, broadcast, release, loss } = route;
  return {
    ...{ name, carry, roundId, carrierId, whileId, onlyDifferent, broadcast },
    steps: transforms.map((step): TypedStep => ({ kind: step.kind, form: typedOf(schemaOf(step.kind), step) })),
    triggerOn: trigger.on,
    deadband: trigger.on === 'change' ? String(trigger.deadband) : '0',
    edgeId: trigger.on === 'edge' ? trigger.pointId : null,
    releaseId: release?.pointId ?? null,
    releaseValue: String(release?.value ?? 1),
    releaseWhen: release?.when ?? 'before',
    lossRule: loss.rule,
    lossValue: String(loss.value ?? ''),
    validId: loss.validId,
    lostAfterMs: String(loss.afterMs),
    stillMs: loss.stillMs === null ? '' : String(loss.stillMs),
  };
}

/** The route that was typed; its schema says what does not fit. */
export function routeOf(before: Route, typed: TypedRoute): unknown {
  const { name, carry, roundId, carrierId, whileId, onlyDifferent, broadcast, steps } = typed;
  return {
    ...before,
    ...{ carry, roundId, carrierId, whileId, onlyDifferent, broadcast },
    name: name.trim(),
    transforms: stepsOf(steps),
    trigger: triggerOf(typed),
    release: typed.releaseId ? { pointId: typed.releaseId, value: typedNumber(typed.releaseValue), when: typed.releaseWhen } : null,
    loss: {
      rule: typed.lossRule,
      value: typed.lossRule === 'value' ? typedNumber(typed.lossValue) : null,
      validId: typed.validId,
      afterMs: typedNumber(typed.lostAfterMs),
      stillMs: typed.stillMs.trim() === '' ? null : typedNumber(typed.stillMs),
    },
  };
}

export function stepsOf(steps: readonly TypedStep[]): Transform[] {
  return steps.map(({ kind, form }) => ({ kind, ...valueOf(schemaOf(kind), form) }) as Transform);
}

function triggerOf({ triggerOn, deadband, edgeId }: TypedRoute): unknown {
  if (triggerOn === 'change') return { on: triggerOn, deadband: typedNumber(deadband) };
  return triggerOn === 'edge' ? { on: triggerOn, pointId: edgeId ?? '' } : { on: triggerOn };
}
