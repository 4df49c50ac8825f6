import {
  checkConverters,
  checkErrands,
  checkFrames,
  checkLines,
  checkLinks,
  checkMaps,
  checkStations,
  runChecks,
} from '../checks/index.js';
import type { Finding } from '../findings/index.js';
import type { Point, ProjectDocument } from '../model/index.js';
import {
  clientsOf,
  joinExchanges,
  lookup,
  type Lookup,
  Memory,
  type Plan,
  type PlannedRequest,
  type PlannedRoute,
  readGroupOf,
  type RequestGroup,
  requestMaker,
  type RouteCells,
  routeCells,
  type ValidRoute,
  whyNotRead,
} from '../plan/index.js';
import { RouteMemory } from './route-memory.js';
import { validRoute } from './valid-route.js';

/**
 * Works out which requests carry the routes, and says what keeps a route from being carried.
 * Reads join the source points of a device in a round, as cheaply as it goes; writes join destinations that come from the
 * same device, so that one silent device never holds back values of another. Bits inside a register that several routes own
 * become one write, wherever they come from. The findings are those of routes, lines, maps and errands.
 */
export function compile(document: ProjectDocument): { plan: Plan; findings: Finding[] } {
  return compileWith(new Memory(), new RouteMemory(), document);
}

/** Compiles one document after another. Of a later one it works out only what an edit has touched, so rows must not be changed in place. */
export function compiler(): typeof compile {
  const [memory, routeMemory] = [new Memory(), new RouteMemory()];
  return (document) => compileWith(memory, routeMemory, document);
}

function compileWith(memory: Memory, routeMemory: RouteMemory, document: ProjectDocument): { plan: Plan; findings: Finding[] } {
  const look = lookup(document, memory);
  const findings: Finding[] = [];
  const cells = document.routes.flatMap((route) => {
    const row = validRoute(route, look, routeMemory, findings);
    return row ? [routeCells(row, look)] : [];
  });
  const maker = requestMaker(look);
  const reads = planReads(cells, maker, look);
  const writes = planWrites(cells, maker, look);
  const routes = cells.map((own) => {
    const { row, readGroup, writeGroup } = own;
    const readId = reads.groups.get(readGroup)!.byPoint.get(row.source.id)!.id;
    const writeId = writes.groups.get(writeGroup)!.byPoint.get(row.destination.id)!.id;
    const known = routeMemory.planned.get(row);
    const isPlain = row.others.length === 0 && row.valid === null;
    if (isPlain && known?.readId === readId && known.writeId === writeId) return known;
    const others = row.others.map((point) => reads.groups.get(readGroupOf(row, point, look.askedAt))!.byPoint.get(point.id)!.id);
    const validId = row.valid ? writes.groups.get(validGroupOf(own, look))!.byPoint.get(row.valid.id)!.id : null;
    const planned = plannedRoute(row, readId, writeId, others, validId);
    routeMemory.planned.set(row, planned);
    return planned;
  });
  const requests = joinExchanges([...reads.requests, ...writes.requests], routes);
  findings.push(
    ...runChecks('plan', { routes: cells, look }),
    ...cells.flatMap(({ row }) => routeMemory.valueFindings(row)),
    ...checkLines(document, clientsOf(requests)),
    ...checkMaps(document),
    ...checkConverters(document),
    ...checkFrames(document),
    ...checkLinks(document),
    ...checkStations(document),
    ...checkErrands(document),
    ...runChecks('requests', { requests, document }),
  );
  memory.sweep();
  return { plan: { endpoints: [...maker.endpoints.values()], requests, routes }, findings };
}

/** Requests for points that are looked at but that the plan does not read; they yield to everything else. */
export function compileWatch(document: ProjectDocument, plan: Plan, pointIds: ReadonlySet<string>): Pick<Plan, 'endpoints' | 'requests'> {
  const look = lookup(document);
  const read = new Set(
    plan.requests.filter((request) => request.kind === 'read').flatMap((request) => request.points.map((point) => point.pointId)),
  );
  const wanted = document.points.filter((point) => {
    if (!pointIds.has(point.id) || read.has(point.id) || point.access === 'write' || !look.way(point.deviceId).ok) return false;
    return whyNotRead(point, look.device.get(look.askedAt(point.deviceId))!) === null;
  });
  const maker = requestMaker(look);
  const requests = groupBy(wanted, (point) => `${look.askedAt(point.deviceId)} ${point.table}`).flatMap(
    (points) => maker.make({ kind: 'watch', carrierId: null, round: null, points }).requests,
  );
  return { endpoints: [...maker.endpoints.values()], requests };
}

type Maker = ReturnType<typeof requestMaker>;

function plannedRoute(
  row: ValidRoute,
  readId: string,
  writeId: string,
  alsoReadIds: readonly string[],
  validId: string | null,
): PlannedRoute {
  const { route, round, source, destination, others, valid } = row;
  const { id, name, carry, transforms, carrierId, trigger, whileId, onlyDifferent, loss } = route;
  return {
    id,
    name,
    carry,
    transforms,
    carrierId,
    trigger,
    whileId,
    onlyDifferent,
    loss,
    source,
    destination,
    readId,
    alsoReadIds: alsoReadIds.length ? [...new Set(alsoReadIds)].filter((other) => other !== readId) : [],
    others,
    writeId,
    valid: valid && validId ? { point: valid, writeId: validId } : null,
    periodMs: round.periodMs,
  };
}

/** What is planned, and by its group, where each point is to be found. */
interface Planned {
  requests: PlannedRequest[];
  groups: Map<string, RequestGroup>;
}

function planReads(cells: readonly RouteCells[], maker: Maker, { askedAt }: Lookup): Planned {
  const wanted = new Map<string, { row: ValidRoute; points: Set<Point> }>();
  const want = (group: string, row: ValidRoute, point: Point) => {
    const known = wanted.get(group);
    if (known) known.points.add(point);
    else wanted.set(group, { row, points: new Set([point]) });
  };
  for (const { row, readGroup } of cells) {
    want(readGroup, row, row.source);
    for (const point of row.others) want(readGroupOf(row, point, askedAt), row, point);
  }
  return planEach(wanted, ({ row, points }) =>
    maker.make({ kind: 'read', carrierId: row.route.carrierId, round: row.round, points: [...points] }),
  );
}

function planWrites(cells: readonly RouteCells[], maker: Maker, look: Lookup): Planned {
  const wanted = new Map<string, ToWrite>();
  const want = (group: string, point: Point, write: Omit<ToWrite, 'points'>) => {
    const known = wanted.get(group);
    if (known) known.points.add(point);
    else wanted.set(group, { ...write, points: new Set([point]) });
  };
  for (const own of cells) {
    const { row, isPartial, mark, writeGroup } = own;
    want(writeGroup, row.destination, { row, isPartial, isBroadcast: row.route.broadcast, mark, release: row.release });
    if (row.valid)
      want(validGroupOf(own, look), row.valid, {
        row,
        isPartial: row.valid.bit !== null,
        isBroadcast: false,
        mark: 'valid',
        release: null,
      });
  }
  return planEach(wanted, ({ row, points, ...write }) =>
    maker.make({ kind: 'write', carrierId: row.route.carrierId, round: row.round, points: [...points], ...write }),
  );
}

/** Something that routes set: their values, or the bits that say whether those are good. */
interface ToWrite {
  row: ValidRoute;
  points: Set<Point>;
  isPartial: boolean;
  isBroadcast: boolean;
  release: ValidRoute['release'];
  mark: string;
}

function validGroupOf({ row: { route, round, valid } }: RouteCells, { askedAt }: Lookup): string {
  return [route.carrierId, round.id, valid && askedAt(valid.deviceId), valid?.table, 'valid', valid?.bit !== null].join(' ');
}

function planEach<T>(wanted: ReadonlyMap<string, T>, make: (of: T) => RequestGroup): Planned {
  const groups = new Map([...wanted].map(([group, of]) => [group, make(of)]));
  return { groups, requests: [...groups.values()].flatMap(({ requests }) => requests) };
}

function groupBy<T>(items: readonly T[], key: (item: T) => string): T[][] {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const of = key(item);
    const group = groups.get(of);
    if (group) group.push(item);
    else groups.set(of, [item]);
  }
  return [...groups.values()];
}
