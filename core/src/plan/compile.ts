import { isBitTable } from '../address/index.js';
import { checkLines, checkMaps, type Finding } from '../findings/index.js';
import type { Point, ProjectDocument } from '../model/index.js';
import { masksOf } from '../route/index.js';
import { checkRoutes } from './check-routes.js';
import type { Plan, PlannedRequest, PlannedRoute } from './plan.js';
import { requestMaker } from './requests.js';
import { lookup, type Sound, soundRoute, whyNotRead } from './sound.js';

/**
 * Works out which requests carry the routes, and says what keeps a route from being carried.
 * Reads join the source points of a device in a round, as cheaply as it goes; writes join destinations that come from the
 * same device, so that one silent device never holds back values of another. Bits inside a register that several routes own
 * become one write, wherever they come from. The findings are those of routes, lines and maps.
 */
export function compile(document: ProjectDocument): { plan: Plan; findings: Finding[] } {
  const look = lookup(document);
  const findings: Finding[] = [];
  const sound = document.routes.flatMap((route) => soundRoute(route, look, findings) ?? []);
  const maker = requestMaker(look);
  const reads = planReads(sound, maker);
  const writes = planWrites(sound, maker);
  const routes = sound.map((row): PlannedRoute => {
    const { route, round, source, destination, others, valid } = row;
    const readOf = (point: Point) => reads.byPoint.get(readKey(row, point.id))!.id;
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
      readId: readOf(source),
      alsoReadIds: others.length ? [...new Set(others.map(readOf))].filter((readId) => readId !== readOf(source)) : [],
      others,
      writeId: writes.values.get(route.id)!.id,
      valid: valid ? { point: valid, writeId: writes.valid.get(route.id)!.id } : null,
      periodMs: round.periodMs,
    };
  });
  const requests = [...reads.requests, ...writes.requests];
  findings.push(...checkRoutes(sound, look), ...checkLines(document, new Set(maker.endpoints.keys())), ...checkMaps(document));
  return { plan: { endpoints: [...maker.endpoints.values()], requests, routes }, findings };
}

/** Requests for points that are looked at but that the plan does not read; they yield to everything else. */
export function compileWatch(document: ProjectDocument, plan: Plan, pointIds: ReadonlySet<string>): Pick<Plan, 'endpoints' | 'requests'> {
  const look = lookup(document);
  const read = new Set(
    plan.requests.filter((request) => request.kind === 'read').flatMap((request) => request.points.map((point) => point.pointId)),
  );
  const wanted = document.points.filter((point) => {
    if (!pointIds.has(point.id) || read.has(point.id) || point.access === 'write' || !look.reach(point.deviceId).ok) return false;
    return whyNotRead(point, look.device.get(point.deviceId)!) === null;
  });
  const maker = requestMaker(look);
  const requests = groupBy(wanted, (point) => `${point.deviceId} ${point.table}`).flatMap((points) =>
    maker.make({ kind: 'watch', carrierId: null, round: null, points }),
  );
  return { endpoints: [...maker.endpoints.values()], requests };
}

type Maker = ReturnType<typeof requestMaker>;

function readKey({ route, round }: Sound, pointId: string): string {
  return `${route.carrierId ?? ''} ${round.id} ${pointId}`;
}

function planReads(sound: readonly Sound[], maker: Maker) {
  const byPoint = new Map<string, PlannedRequest>();
  const requests: PlannedRequest[] = [];
  const wanted = sound.flatMap((row) => [row.source, ...row.others].map((point) => ({ row, point })));
  for (const group of groupBy(wanted, ({ row, point }) => `${row.route.carrierId} ${row.round.id} ${point.deviceId} ${point.table}`)) {
    const { row } = group[0]!;
    const points = [...new Set(group.map(({ point }) => point))];
    const made = maker.make({ kind: 'read', carrierId: row.route.carrierId, round: row.round, points });
    for (const request of made) {
      requests.push(request);
      for (const { pointId } of request.points) byPoint.set(readKey(row, pointId), request);
    }
  }
  return { byPoint, requests };
}

function planWrites(sound: readonly Sound[], maker: Maker) {
  const values = new Map<string, PlannedRequest>();
  const valid = new Map<string, PlannedRequest>();
  const requests: PlannedRequest[] = [];
  const wanted = sound.flatMap((row): ToWrite[] => [
    { row, point: row.destination, into: values, ...togetherWith(row) },
    ...(row.valid ? [{ row, point: row.valid, into: valid, isPartial: row.valid.bit !== null, mark: 'valid' }] : []),
  ]);
  const keyOf = ({ row, point, isPartial, mark }: ToWrite) =>
    [row.route.carrierId, row.round.id, point.deviceId, point.table, mark, isPartial].join(' ');
  for (const group of groupBy(wanted, keyOf)) {
    const { row, isPartial, mark, into } = group[0]!;
    const made = maker.make({
      kind: 'write',
      carrierId: row.route.carrierId,
      round: row.round,
      points: [...new Set(group.map(({ point }) => point))],
      isPartial,
      release: into === values ? row.release : null,
      mark,
    });
    requests.push(...made);
    const byPoint = new Map(made.flatMap((request) => request.points.map(({ pointId }) => [pointId, request])));
    for (const { row: member, point } of group) into.set(member.route.id, byPoint.get(point.id)!);
  }
  return { values, valid, requests };
}

/** Something that a route sets: its value, or the bit that says whether it is good. */
interface ToWrite {
  row: Sound;
  point: Point;
  into: Map<string, PlannedRequest>;
  isPartial: boolean;
  /** Only what has the same mark shares a request. */
  mark: string;
}

/** Whole registers go with others from the same device; bits of a register with all others of it; and a release is for its own. */
function togetherWith({ route, source, destination }: Sound): Pick<ToWrite, 'isPartial' | 'mark'> {
  const isPartial = !isBitTable(destination.table) && masksOf({ ...route, destination }) !== null;
  const from = isPartial ? 'bits' : source.deviceId;
  return { isPartial, mark: route.release ? [from, ...Object.values(route.release)].join(' ') : from };
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
