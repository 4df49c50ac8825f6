import type { Point, Route } from '@plain-envoy/core/model';
import type { PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';

export const LANE = 30;

/** The lanes in view, both ends counted. */
export interface Window {
  first: number;
  last: number;
}

/** A route between two lanes. */
export interface Ribbon {
  route: Route;
  fromY: number;
  toY: number;
}

/** What one request fetches or sets, as a bracket along its lanes. */
export interface Bracket {
  request: PlannedRequest;
  fromY: number;
  toY: number;
}

/** One side of the banks: the point in each lane; null where a lane stays empty. */
export type Lanes = readonly (Point | null)[];

/** Both banks, so laid out that what is carried lies face to face. */
export interface FacingLanes {
  source: Lanes;
  destination: Lanes;
  /** So many lanes from the first hold what is carried between the two; what is not follows after one that stays empty. */
  routed: number;
  /** How many points of each side have no route here. */
  rest: { source: number; destination: number };
}

/**
 * Lays two banks out by the routes between them: in the order of the sources, each end that is not placed yet beside its other one. Points
 * without a route here follow, unless they are folded away.
 */
export function faceToFace(
  routes: readonly Route[],
  sources: readonly Point[],
  destinations: readonly Point[],
  isFolded: boolean,
): FacingLanes {
  const [sourceOrder, destinationOrder] = [orderOf(sources), orderOf(destinations)];
  const ends = new Map<number, number[]>();
  for (const { sourceId, destinationId } of routes) {
    const [source, destination] = [sourceOrder.get(sourceId), destinationOrder.get(destinationId)];
    if (source !== undefined && destination !== undefined) ends.set(source, [...(ends.get(source) ?? []), destination]);
  }
  const lanes: { source: (Point | null)[]; destination: (Point | null)[] } = { source: [], destination: [] };
  const placed = { source: new Set(ends.keys()), destination: new Set<number>() };
  for (const [source, its] of [...ends].sort(([a], [b]) => a - b)) {
    const fresh = [...new Set(its)].filter((destination) => !placed.destination.has(destination)).sort((a, b) => a - b);
    for (const destination of fresh) placed.destination.add(destination);
    lanes.source.push(sources[source]!, ...fresh.slice(1).map(() => null));
    lanes.destination.push(...(fresh.length ? fresh.map((destination) => destinations[destination]!) : [null]));
  }
  const routed = lanes.source.length;
  const [restOfSources, restOfDestinations] = [
    sources.filter((_, index) => !placed.source.has(index)),
    destinations.filter((_, index) => !placed.destination.has(index)),
  ];
  const rest = { source: restOfSources.length, destination: restOfDestinations.length };
  if (routed === 0) return { source: sources, destination: destinations, routed, rest };
  if (isFolded || rest.source + rest.destination === 0) return { ...lanes, routed, rest };
  return {
    source: [...lanes.source, null, ...restOfSources],
    destination: [...lanes.destination, null, ...restOfDestinations],
    routed,
    rest,
  };
}

function orderOf(points: readonly Point[]): ReadonlyMap<string, number> {
  return new Map(points.map(({ id }, index) => [id, index]));
}

/** The middle of each point's lane, in pixels from the top. */
function middlesOf(lanes: Lanes): ReadonlyMap<string, number> {
  return new Map(lanes.flatMap((point, index) => (point ? [[point.id, index * LANE + (LANE - 3) / 2]] : [])));
}

/** The ribbons of the routes whose two ends are in these banks, from lane to lane in pixels. */
export function ribbonsBetween(routes: readonly Route[], sources: Lanes, destinations: Lanes): Ribbon[] {
  const from = middlesOf(sources);
  const to = middlesOf(destinations);
  return routes.flatMap((route) => {
    const fromY = from.get(route.sourceId);
    const toY = to.get(route.destinationId);
    return fromY === undefined || toY === undefined ? [] : [{ route, fromY, toY }];
  });
}

/** Which requests carry these routes at one side, each along the lanes of its points. */
export function bracketsOf(
  requests: readonly PlannedRequest[],
  routes: readonly PlannedRoute[],
  bank: Lanes,
  side: 'source' | 'destination',
): Bracket[] {
  const lanes = middlesOf(bank);
  const found = new Map<string, { fromY: number; toY: number }>();
  for (const route of routes) {
    const y = lanes.get(side === 'source' ? route.source.id : route.destination.id);
    const id = side === 'source' ? route.readId : route.writeId;
    if (y === undefined) continue;
    const known = found.get(id);
    found.set(id, { fromY: Math.min(y, known?.fromY ?? y), toY: Math.max(y, known?.toY ?? y) });
  }
  return requests.flatMap((request) => {
    const at = found.get(request.id);
    return at ? [{ request, ...at }] : [];
  });
}

/** The lanes that a scrolled view shows, with a few to spare on either side. */
export function windowOf(scrollTop: number, height: number): Window {
  const spare = 4;
  return { first: Math.max(0, Math.floor(scrollTop / LANE) - spare), last: Math.ceil((scrollTop + height) / LANE) + spare };
}

/** Whether something between two heights is in view. */
export function isInView({ fromY, toY }: { fromY: number; toY: number }, { first, last }: Window): boolean {
  return Math.max(fromY, toY) >= first * LANE && Math.min(fromY, toY) <= (last + 1) * LANE;
}

/** As many ribbons as can be followed by eye, also when they run far. */
const SPARSE = 40;

/** How much of a ribbon is drawn: whole, or the end that is in view, with where its other end is. */
export interface DrawnRibbon extends Ribbon {
  part: 'whole' | 'leaving' | 'arriving';
  /** Whether the end that is not in view is further down. */
  isDown: boolean;
}

/**
 * The ribbons in view. Where there are many, one whose other end is far away is drawn as a stub, since hundreds of long ribbons across one view tell
 * nothing; one that only passes by is left out. The chosen one is always whole.
 */
export function drawnRibbons(ribbons: readonly Ribbon[], { first, last }: Window, chosenId: string | undefined): DrawnRibbon[] {
  const isSparse = ribbons.length <= SPARSE;
  const isHere = (y: number) => y >= first * LANE && y <= (last + 1) * LANE;
  return ribbons.flatMap((ribbon): DrawnRibbon[] => {
    const [leaves, arrives] = [isHere(ribbon.fromY), isHere(ribbon.toY)];
    const isInWay = isInView(ribbon, { first, last });
    if ((leaves && arrives) || ribbon.route.id === chosenId || (isSparse && isInWay)) return [{ ...ribbon, part: 'whole', isDown: false }];
    if (leaves) return [{ ...ribbon, part: 'leaving', isDown: ribbon.toY > ribbon.fromY }];
    return arrives ? [{ ...ribbon, part: 'arriving', isDown: ribbon.fromY > ribbon.toY }] : [];
  });
}

/** Where a ribbon leaves and arrives, beside the brackets of the requests. */
const EDGE = 9;
const STUB = 34;

/** A ribbon's line across a gap of this width; it leaves and arrives level, so that its arrow head lies straight. */
export function ribbonPath({ fromY, toY, part = 'whole' }: Ribbon & Partial<DrawnRibbon>, width: number): string {
  if (part === 'leaving') return `M${EDGE} ${fromY}H${STUB}`;
  if (part === 'arriving') return `M${width - STUB} ${toY}H${width - EDGE - 9}`;
  const bend = width * 0.45;
  return `M${EDGE} ${fromY}C${bend} ${fromY} ${width - bend} ${toY} ${width - EDGE - 9} ${toY}`;
}

/** A bracket that opens towards its bank. */
export function bracketPath({ fromY, toY }: Bracket, side: 'source' | 'destination', width: number): string {
  const [open, back] = side === 'source' ? [1, 5] : [width - 1, width - 5];
  return `M${open} ${fromY - 9}H${back}V${toY + 9}H${open}`;
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
