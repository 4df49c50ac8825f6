import type { Point, Route } from '@plain-envoy/core/model';

export const LANE = 32;

/** A route between two lanes that are both on view. */
export interface Ribbon {
  route: Route;
  fromY: number;
  toY: number;
}

/** The ribbons of the routes whose two ends are in these banks, from lane to lane in pixels. */
export function ribbonsBetween(routes: readonly Route[], sources: readonly Point[], destinations: readonly Point[]): Ribbon[] {
  const lanes = (points: readonly Point[]) => new Map(points.map((point, index) => [point.id, index * LANE + LANE / 2]));
  const from = lanes(sources);
  const to = lanes(destinations);
  return routes.flatMap((route) => {
    const fromY = from.get(route.sourceId);
    const toY = to.get(route.destinationId);
    return fromY === undefined || toY === undefined ? [] : [{ route, fromY, toY }];
  });
}

/** A ribbon's line across a gap of this width; it leaves and arrives level, so that its arrow head lies straight. */
export function ribbonPath({ fromY, toY }: Ribbon, width: number): string {
  const bend = width * 0.45;
  return `M0 ${fromY}C${bend} ${fromY} ${width - bend} ${toY} ${width - 9} ${toY}`;
}

/** The two devices between which most routes run, to start with. */
export function busiestPair(routes: readonly Route[], points: ReadonlyMap<string, Point>): { from: string; to: string } | null {
  const counts = new Map<string, number>();
  for (const { sourceId, destinationId } of routes) {
    const key = `${points.get(sourceId)?.deviceId} ${points.get(destinationId)?.deviceId}`;
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  const [best] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [];
  const [from, to] = best?.split(' ') ?? [];
  return from && to ? { from, to } : null;
}
