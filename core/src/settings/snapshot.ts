import * as z from 'zod';
import { Id, Name } from '../common/index.js';
import { atItsPlace, bodyOf, type Point, PointBody, readPoint, wordsFromInput } from '../model/index.js';
import type { Value } from '../value/index.js';
import { typedFor } from './verdict.js';

/** What a point held, with what was known of it then: it can still be read when the map was changed since. */
export const KeptValue = z.strictObject({
  pointId: Id,
  point: PointBody,
  words: z.array(z.int().min(0).max(0xffff)).min(1).max(125),
});
export type KeptValue = z.infer<typeof KeptValue>;

/** What a device held when it was read. Points that could not be read are named with the reason. */
export const SnapshotBody = z.strictObject({
  device: Name,
  note: z.string().max(200, 'At most 200 characters.'),
  on: z.enum(['stand-ins', 'real']),
  values: z.array(KeptValue).max(65_536),
  unread: z.array(z.strictObject({ name: Name, why: z.string() })).max(65_536),
});
export type SnapshotBody = z.infer<typeof SnapshotBody>;

/** A snapshot as it was kept. */
export interface Snapshot extends SnapshotBody {
  id: string;
  deviceId: string;
  revision: number;
  atMs: number;
  by: string | null;
}

/** What is kept of a point that was read. */
export function keptValue(point: Point, words: readonly number[]): KeptValue {
  return { pointId: point.id, point: bodyOf(point), words: [...words] };
}

/** The values of a snapshot by the points that there are now: by id, or by name where it is of another device or the point was made anew. */
export function valuesFor(points: readonly Point[], { values }: Pick<SnapshotBody, 'values'>): Map<string, number[]> {
  const byId = new Map(values.map((value) => [value.pointId, value]));
  const byName = new Map([...values].reverse().map((value) => [value.point.name, value]));
  return new Map(
    points.flatMap((point): [string, number[]][] => {
      const kept = byId.get(point.id) ?? byName.get(point.name);
      const words = kept && wordsNow(kept, point);
      return words ? [[point.id, words]] : [];
    }),
  );
}

/** What was kept, laid out as the point is now; null where the same value cannot be held there any more. */
function wordsNow({ point: then, words }: KeptValue, now: Point): number[] | null {
  const before: Point = { ...now, ...then };
  const isSameLayout = (['type', 'order', 'length', 'encoding', 'bit'] as const).every((field) => before[field] === now[field]);
  if (isSameLayout && JSON.stringify(before.scale) === JSON.stringify(now.scale)) return words;
  const typed = typedFor(words, before);
  const typedNow = typed === null ? null : wordsFromInput(typed, now);
  if (!typedNow?.ok) return null;
  const again = atItsPlace(typedNow.value, now);
  const [was, is] = [readPoint(words, before), readPoint(again, now)];
  return was.ok && is.ok && plain(was.value.value) === plain(is.value.value) ? again : null;
}

function plain(value: Value): string {
  return typeof value === 'number' ? value.toPrecision(12) : String(value);
}
