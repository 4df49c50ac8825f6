import { meets } from '@plain-envoy/core/errand';
import { type Point, valueText } from '@plain-envoy/core/model';
import type { PlannedRequest } from '@plain-envoy/core/plan';
import type { TraceTrigger } from '@plain-envoy/core/trace';

/** The value at which a capture begins or ends. */
export class AwaitedValue {
  private constructor(
    private readonly on: Extract<TraceTrigger['on'], { kind: 'value' }>,
    private readonly point: Point,
  ) {}

  /** Null where the trigger waits for something else. */
  static of(trigger: TraceTrigger | null, point: Point | null): AwaitedValue | null {
    return trigger?.on.kind === 'value' && point ? new AwaitedValue(trigger.on, point) : null;
  }

  /** `Temperature is 21.5 °C.` where an answer brought the value; null where it did not. */
  seenIn({ points }: PlannedRequest, values: readonly number[]): string | null {
    const here = points.find(({ pointId }) => pointId === this.point.id);
    const words = here && values.slice(here.at, here.at + here.width);
    const met = words && meets(words, this.point, this.on.is, this.on.value);
    return met?.ok && met.value ? `${this.point.name} is ${valueText(words, this.point)}.` : null;
  }
}
