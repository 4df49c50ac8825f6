import type { Reading, RouteState } from '@plain-envoy/core/feed';
import type { Point, ProjectDocument, Radix, Route, WatchItem, WatchList } from '@plain-envoy/core/model';
import { doubtOn, type Said } from '../../parts/quality';
import { describeChain } from '@plain-envoy/core/steps';

/** What is watched: a point, or a route with both its ends. */
export interface WatchRow {
  item: WatchItem;
  index: number;
  name: string;
  radix: Radix;
  source: Point;
  destination: Point | null;
  route: Route | null;
  steps: string;
}

/** The rows of a list; what is gone from the project is left out. */
export function watchRows(list: WatchList, document: ProjectDocument, points: ReadonlyMap<string, Point>): WatchRow[] {
  const routes = new Map(document.routes.map((route) => [route.id, route]));
  return list.items.flatMap((item, index): WatchRow[] => {
    const radix = item.radix ?? list.radix;
    if (item.of === 'point') {
      const source = points.get(item.id);
      return source ? [{ item, index, radix, name: source.name, source, destination: null, route: null, steps: '' }] : [];
    }
    const route = routes.get(item.id);
    const [source, destination] = [route?.sourceId, route?.destinationId].map((id) => points.get(id ?? ''));
    if (!route || !source || !destination) return [];
    return [{ item, index, radix, name: route.name, source, destination, route, steps: describeChain(route.transforms) }];
  });
}

/** What is said of a row: of what was read, of what was carried, and of what arrived. */
export function saidOf(
  { source, destination, route }: WatchRow,
  readings: ReadonlyMap<string, Reading>,
  states: ReadonlyMap<string, RouteState>,
): Said[] {
  return [readings.get(source.id), route ? states.get(route.id) : undefined, destination ? readings.get(destination.id) : undefined];
}

/** Why a row may be wrong although it is read and carried; undefined where nothing speaks against it. */
export function doubtOf({ source, route }: WatchRow, doubts: ReadonlyMap<string, string>): string | undefined {
  return route ? doubtOn(doubts, route) : doubts.get(source.id);
}
