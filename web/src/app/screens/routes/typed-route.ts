import { FormArray, FormGroup } from '@angular/forms';
import { controlOf, textControl } from '../../parts/controls';
import type { Route } from '@plain-envoy/core/model';
import { numberOrNone, typedNumber } from '../../parts/form';
import type { TypedForm } from '../../parts/schema-fields';
import { stepFrom, stepGroup } from './step-list';

/** The controls of a route, laid out as its schema is; numbers stand as they are typed. */
export function routeGroup(route: Route) {
  const { name, carry, roundId, carrierId, transforms, trigger, whileId, onlyDifferent, broadcast, release, loss } = route;
  const form = new FormGroup({
    name: textControl(name),
    carry: controlOf(carry),
    roundId: textControl(roundId),
    carrierId: controlOf(carrierId),
    transforms: new FormArray(transforms.map((step) => stepGroup(step.kind, step))),
    trigger: new FormGroup({
      on: controlOf(trigger.on),
      deadband: textControl(trigger.on === 'change' ? String(trigger.deadband) : '0'),
      pointId: controlOf(trigger.on === 'edge' ? trigger.pointId : null),
    }),
    whileId: controlOf(whileId),
    onlyDifferent: controlOf(onlyDifferent),
    broadcast: controlOf(broadcast),
    release: new FormGroup({
      pointId: controlOf(release?.pointId ?? null),
      value: textControl(String(release?.value ?? 1)),
      when: controlOf(release?.when ?? 'before'),
    }),
    loss: new FormGroup({
      rule: controlOf(loss.rule),
      value: textControl(String(loss.value ?? '')),
      validId: controlOf(loss.validId),
      afterMs: textControl(String(loss.afterMs)),
      stillMs: textControl(loss.stillMs === null ? '' : String(loss.stillMs)),
    }),
  });
  // A step works on the value; with the registers as they are it could do nothing.
  let steps = transforms.length;
  form.controls.transforms.valueChanges.subscribe(({ length }) => {
    if (length && !steps) form.controls.carry.setValue('value');
    steps = length;
  });
  return form;
}

export type RouteGroup = ReturnType<typeof routeGroup>;
type TypedRoute = ReturnType<RouteGroup['getRawValue']>;

/** The route that was typed; its schema says what does not fit. */
export function routeOf(before: Route, typed: TypedRoute): unknown {
  const { name, transforms, trigger, release, loss, ...others } = typed;
  return {
    ...before,
    ...others,
    name: name.trim(),
    transforms: transforms.map((step) => stepFrom(step as TypedForm)),
    trigger: triggerOf(trigger),
    release: release.pointId ? { ...release, value: typedNumber(release.value) } : null,
    loss: {
      ...loss,
      value: loss.rule === 'value' ? typedNumber(loss.value) : null,
      afterMs: typedNumber(loss.afterMs),
      stillMs: numberOrNone(loss.stillMs),
    },
  };
}

function triggerOf({ on, deadband, pointId }: TypedRoute['trigger']): unknown {
  if (on === 'change') return { on, deadband: typedNumber(deadband) };
  return on === 'edge' ? { on, pointId: pointId ?? '' } : { on };
}
