import { checkLines, checkMaps, type Finding } from '../findings/index.js';
import { readFunction, writeFunction } from '../frame/index.js';
import { type Device, type Point, pointWidth, type ProjectDocument, type Round, type Route } from '../model/index.js';
import { checkEnds } from '../route/index.js';
import { groupAdjacent, type Run } from './group.js';
import type { Endpoint, Plan, PlannedRequest, PlannedRoute } from './plan.js';
import { reach, type Reach } from './reach.js';

/** A route whose two ends exist, fit together and can be reached. */
interface Sound {
  route: Route;
  round: Round;
  source: Point;
  destination: Point;
}

/**
 * Works out which requests carry the routes, and says what keeps a route from being carried.
 * Reads join all adjacent source points of a device in a round; writes join adjacent destinations that come from the same
 * device, so that one silent device never holds back values of another. The findings are those of routes and of lines.
 */
export function compile(document: ProjectDocument): { plan: Plan; findings: Finding[] } {
  const look = lookup(document);
  const findings: Finding[] = [];
  const sound = document.routes.flatMap((route) => checkRoute(route, look, findings));
  const endpoints = new Map<string, Endpoint>();
  const requestFor = requestMaker(look, endpoints);

  const reads = new Map<string, PlannedRequest>();
  const writes = new Map<string, PlannedRequest>();
  for (const group of groupBy(sound, ({ round, source }) => `${round.id} ${source.deviceId} ${source.table}`)) {
    const { round, source } = group[0]!;
    const points = [...new Set(group.map((member) => member.source))];
    for (const run of runsOf(points, readFunction(source.table).most, 'together')) {
      const request = requestFor('read', round, source, run);
      for (const { point } of run.members) reads.set(`${round.id} ${point.id}`, request);
    }
  }
  for (const group of groupBy(
    sound,
    ({ round, source, destination }) => `${round.id} ${source.deviceId} ${destination.deviceId} ${destination.table}`,
  )) {
    const { round, destination } = group[0]!;
    const most = writeFunction(destination.table, 2)!.most;
    const extents = group.map((member) => ({ ...extentOf(member.destination), routeId: member.route.id }));
    for (const run of groupAdjacent(extents, most, 'apart')) {
      const request = requestFor('write', round, destination, run);
      for (const { routeId } of run.members) writes.set(routeId, request);
    }
  }
  const routes = sound.map(({ route, round, source, destination }): PlannedRoute => ({
    id: route.id,
    source,
    destination,
    carry: route.carry,
    readId: reads.get(`${round.id} ${source.id}`)!.id,
    writeId: writes.get(route.id)!.id,
    periodMs: round.periodMs,
  }));
  const requests = [...new Set([...reads.values(), ...writes.values()])];
  findings.push(...checkLines(document, new Set(endpoints.keys())), ...checkMaps(document));
  return { plan: { endpoints: [...endpoints.values()], requests, routes }, findings };
}

/** How often a value is fetched only because somebody looks at it. */
const WATCH_PERIOD_MS = 500;

/** Requests for points that are looked at but that the plan does not read; they yield to everything else. */
export function compileWatch(document: ProjectDocument, plan: Plan, pointIds: ReadonlySet<string>): Pick<Plan, 'endpoints' | 'requests'> {
  const look = lookup(document);
  const read = new Set(
    plan.requests.filter((request) => request.kind === 'read').flatMap((request) => request.points.map((point) => point.pointId)),
  );
  const wanted = document.points.filter(
    (point) => pointIds.has(point.id) && !read.has(point.id) && point.access !== 'write' && look.reach(point.deviceId).ok,
  );
  const endpoints = new Map<string, Endpoint>();
  const requestFor = requestMaker(look, endpoints);
  const requests = groupBy(wanted, (point) => `${point.deviceId} ${point.table}`).flatMap((points) =>
    runsOf(points, readFunction(points[0]!.table).most, 'together').map((run) => requestFor('watch', null, points[0]!, run)),
  );
  return { endpoints: [...endpoints.values()], requests };
}

interface Lookup {
  point: Map<string, Point>;
  round: Map<string, Round>;
  device: Map<string, Device>;
  reach(deviceId: string): ReturnType<typeof reach>;
}

function lookup(document: ProjectDocument): Lookup {
  const known = new Map<string, ReturnType<typeof reach>>();
  const byId = <T extends { id: string }>(rows: readonly T[]) => new Map(rows.map((row) => [row.id, row]));
  return {
    point: byId(document.points),
    round: byId(document.rounds),
    device: byId(document.devices),
    reach(deviceId) {
      const found = known.get(deviceId) ?? reach(document, deviceId);
      known.set(deviceId, found);
      return found;
    },
  };
}

function checkRoute(route: Route, look: Lookup, findings: Finding[]): Sound[] {
  const source = look.point.get(route.sourceId);
  const destination = look.point.get(route.destinationId);
  const round = look.round.get(route.roundId);
  const stop = (check: string, message: string, mend: string, field?: string) =>
    findings.push({
      severity: 'stop',
      check,
      message: `${route.name}: ${message}`,
      mend,
      at: { entity: 'route', id: route.id, ...(field ? { field } : {}) },
    });
  if (!source || !destination || !round) {
    stop('route-incomplete', 'its source, destination or round is no longer there.', 'Choose both ends and a round, or delete the route.');
    return [];
  }
  const problems = checkEnds(source, destination, route.carry);
  for (const problem of problems) stop(problem.check, problem.message, problem.mend, problem.field);
  const most = writeFunction(destination.table, 2)?.most;
  const tooWide = most !== undefined && pointWidth(destination) > most;
  if (tooWide)
    stop(
      'too-wide-to-write',
      `${destination.name} takes ${pointWidth(destination)} registers; one request writes at most ${most}.`,
      'Shorten it, or split it into two points.',
      'destinationId',
    );
  const unreachable = [...new Set([source.deviceId, destination.deviceId])].flatMap((deviceId) => {
    const reached = look.reach(deviceId);
    return reached.ok ? [] : [reached.problem.message];
  });
  for (const message of unreachable) stop('unreachable', message, 'Give the device a port on a line that Plain Envoy reaches.');
  return problems.length || tooWide || unreachable.length ? [] : [{ route, round, source, destination }];
}

interface PointExtent {
  offset: number;
  width: number;
  point: Point;
}

function extentOf(point: Point): PointExtent {
  return { offset: point.offset, width: pointWidth(point), point };
}

function runsOf(points: readonly Point[], most: number, overlap: 'together' | 'apart'): Run<PointExtent>[] {
  return groupAdjacent(points.map(extentOf), most, overlap);
}

/** Makes requests and notes the endpoints that they need. */
function requestMaker(look: Lookup, endpoints: Map<string, Endpoint>) {
  return (kind: PlannedRequest['kind'], round: Round | null, at: Point, run: Run<PointExtent>): PlannedRequest => {
    const reached = look.reach(at.deviceId) as { ok: true; value: Reach };
    const { endpoint, unitId } = reached.value;
    const device = look.device.get(at.deviceId)!;
    endpoints.set(endpoint.id, endpoint);
    const known = kind === 'write' ? writeFunction(at.table, run.count)! : readFunction(at.table);
    return {
      id: [kind, round?.id ?? 'look', at.deviceId, at.table, run.offset, run.count].join(':'),
      kind,
      endpointId: endpoint.id,
      deviceId: at.deviceId,
      deviceName: device.name,
      unitId,
      functionCode: known.code,
      table: at.table,
      offset: run.offset,
      count: run.count,
      roundId: round?.id ?? null,
      periodMs: round?.periodMs ?? WATCH_PERIOD_MS,
      priority: round?.priority ?? 10,
      timeoutMs: device.timeoutMs,
      tries: device.tries,
      points: run.members.map(({ point, offset, width }) => ({ pointId: point.id, at: offset - run.offset, width })),
    };
  };
}

function groupBy<T>(items: readonly T[], key: (item: T) => string): T[][] {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const group = groups.get(key(item));
    if (group) group.push(item);
    else groups.set(key(item), [item]);
  }
  return [...groups.values()];
}
