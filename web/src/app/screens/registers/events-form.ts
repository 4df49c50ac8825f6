import { FormArray, FormGroup } from '@angular/forms';
import type { Point } from '@plain-envoy/core/model';
import type { EventPlace } from '@plain-envoy/core/place';
import type { PointType } from '@plain-envoy/core/types';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';

/** A point of a telecontrol station as one begins it. */
export const blankEvent: EventPlace = {
  ...{ kind: 'event', sort: 'single', index: 0, part: 'value', eventClass: 1, threshold: 0, periodMs: null, withTime: true },
  ...{ selectFirst: false, pulseMs: null, pinned: false },
};

/** The controls of one point; `id` of the point that it is, null for one that is new. */
export function eventGroup(id: string | null, name: string, type: PointType, place: EventPlace) {
  const optional = (value: number | null) => textControl(value ?? '');
  return new FormGroup({
    id: controlOf<string | null>(id),
    name: textControl(name),
    type: controlOf<PointType>(type),
    sort: controlOf(place.sort),
    index: textControl(place.index),
    part: controlOf(place.part),
    eventClass: textControl(place.eventClass),
    threshold: textControl(place.threshold),
    periodMs: optional(place.periodMs),
    withTime: controlOf(place.withTime),
    selectFirst: controlOf(place.selectFirst),
    pulseMs: optional(place.pulseMs),
  });
}
export type TypedEvent = ReturnType<ReturnType<typeof eventGroup>['getRawValue']>;

/** The controls of all points of a station. */
export function eventsGroup(points: readonly Point[]) {
  return new FormGroup({
    points: new FormArray(
      points.flatMap(({ id, name, type, place }) => (place.kind === 'event' ? [eventGroup(id, name, type, place)] : [])),
    ),
  });
}
export type TypedEvents = ReturnType<ReturnType<typeof eventsGroup>['getRawValue']>;

/** What was typed of a place; NaN where a number is none. */
export function eventTyped(typed: TypedEvent, pinned: boolean): EventPlace {
  const optional = (text: string) => (text.trim() === '' ? null : typedNumber(text));
  const { sort, part, withTime, selectFirst } = typed;
  return {
    ...{ kind: 'event', sort, part, withTime, selectFirst, pinned },
    index: typedNumber(typed.index),
    eventClass: typedNumber(typed.eventClass),
    threshold: typedNumber(typed.threshold),
    periodMs: optional(typed.periodMs),
    pulseMs: optional(typed.pulseMs),
  };
}
