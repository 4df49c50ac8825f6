import { canBeWritten, type Change, type Point, pointsOfErrand, type ProjectDocument } from '../model/index.js';
import { typedFor } from './verdict.js';

/** The settings of a device, in register order. */
export function settingsOf({ points }: Pick<ProjectDocument, 'points'>, deviceId: string): Point[] {
  return points.filter((point) => point.deviceId === deviceId && point.setting !== null);
}

/** What of a device could be settings: what can be written, and is neither written nor told by a route, an errand or a release. */
export function likelySettings(document: Pick<ProjectDocument, 'points' | 'routes' | 'errands'>, deviceId: string): Point[] {
  const carried = new Set<unknown>([
    ...document.routes.flatMap(({ sourceId, destinationId, loss }) => [sourceId, destinationId, loss.validId]),
    ...document.points.map(({ releasedBy }) => releasedBy),
    ...document.errands.flatMap(pointsOfErrand),
  ]);
  return document.points.filter((point) => point.deviceId === deviceId && canBeWritten(point) && !carried.has(point.id));
}

/** The changes that make these points the settings of a device, and no others; what was wanted of them stays. */
export function chooseSettings(points: readonly Point[], chosen: ReadonlySet<string>): Change[] {
  return points.flatMap((point): Change[] => {
    const setting = chosen.has(point.id) ? (point.setting ?? { wanted: null }) : null;
    if ((setting === null) === (point.setting === null)) return [];
    return [{ entity: 'point', id: point.id, before: point, after: { ...point, setting } }];
  });
}

/** The change by which a point shall be what a person typed; empty for not decided yet. */
export function want(point: Point, text: string): Change {
  const after = { ...point, setting: { wanted: text.trim() === '' ? null : text } };
  return { entity: 'point', id: point.id, before: point, after };
}

/** The changes by which points shall be what these registers hold. */
export function wantHeld(points: readonly Point[], held: ReadonlyMap<string, readonly number[]>): Change[] {
  return points.flatMap((point): Change[] => {
    const words = held.get(point.id);
    if (!words) return [];
    const wanted = typedFor(words, point);
    return wanted === null || wanted === point.setting?.wanted ? [] : [want(point, wanted)];
  });
}

/** Settings in the order in which they are written: what releases others before all others, then as they lie. */
export function inWritingOrder(points: readonly Point[]): Point[] {
  const releasing = new Set(points.map(({ releasedBy }) => releasedBy));
  return [...points.filter(({ id }) => releasing.has(id)), ...points.filter(({ id }) => !releasing.has(id))];
}
