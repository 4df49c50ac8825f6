import type { PointWords } from '@plain-envoy/core/feed';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import { masksOf } from '@plain-envoy/core/route';

/** Whether what a route writes to its destination is as it was; other bits of the same registers may change. */
export function isUnchanged({ transforms }: PlannedRoute, before: PointWords, now: PointWords | undefined): boolean {
  const masks = masksOf({ destination: before.point, transforms });
  const own = (words: readonly number[]) => words.map((word, index) => word & (masks?.[index] ?? 0xffff)).join();
  return now !== undefined && own(now.words) === own(before.words);
}
