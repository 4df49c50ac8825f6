import type { Table } from '../address/index.js';
import { MASK_WRITE, readFunction } from '../frame/index.js';
import { lineTime } from '../line/index.js';
import { isModbusLine, type ModbusLine } from '../media/index.js';
import { type Device, type Point, pointWidth, type ProjectDocument, type Round } from '../model/index.js';
import { overlaps } from './cheapest.js';
import type { RequestGroup } from './memory.js';
import { BROADCAST_UNIT, type Endpoint, type PlannedRelease, type PlannedRequest } from './plan.js';
import { codeToWrite, type CarryingRequest, planPoints, type PointToCarry, type RequestCost, standardCost } from './plan-points.js';
import type { Way } from './way.js';
import type { Lookup } from './lookup.js';
import type { ValidRoute } from './valid-route.js';
/** How often a value is fetched only because somebody looks at it. */
const WATCH_PERIOD_MS = 500;

/** Points of one device and table that are carried together: read in one round, or written after the same reads. */
export interface Together {
  kind: PlannedRequest['kind'];
  carrierId: string | null;
  round: Round | null;
  points: readonly Point[];
  /** For a write: only some bits of these registers are owned. */
  isPartial?: boolean;
  /** To every unit of the line at once, where that is possible: `whyNotBroadcast` says so. */
  isBroadcast?: boolean;
  release?: ValidRoute['release'];
  /** Tells requests apart that are otherwise alike. */
  mark?: string;
}

/** Makes the cheapest requests for points that are carried together, and notes the endpoints that they need. */
export function requestMaker(look: Lookup) {
  const endpoints = new Map<string, Endpoint>();
  const costs = new Map<string, RequestCost>();
  const costOf = (deviceId: string): RequestCost => {
    const known = costs.get(deviceId) ?? look.memory.same(`cost ${deviceId}`, requestCost(look.document, deviceId));
    costs.set(deviceId, known);
    return known;
  };
  return {
    endpoints,
    make(together: Together): RequestGroup {
      const { kind, carrierId, round, points, isPartial, isBroadcast, release, mark } = together;
      const way = (look.way(points[0]!.deviceId) as { ok: true; value: Way }).value;
      const { asked: device, endpoint, unitId, broadcastOn } = way;
      endpoints.set(endpoint.id, endpoint);
      const cost = costOf(device.id);
      const key = [kind, carrierId, round?.id, device.id, points[0]!.table, isPartial, isBroadcast, mark].join(' ');
      const restsOn = [
        device,
        endpoint,
        unitId,
        broadcastOn,
        cost,
        round,
        release?.point,
        release?.when,
        release?.words.join(' '),
        ...points,
      ];
      return look.memory.requestsOf(key, restsOn, () =>
        carryingRequests(together, device, cost).map((request) => planned(request, together, device, way)),
      );
    },
  };
}

interface Carrying extends PointToCarry {
  point: Point;
}

/** Writes that overlap must not share a request, where one would undo the other. */
function carryingRequests(together: Together, device: Device, cost: RequestCost): CarryingRequest<Carrying>[] {
  const { kind, points, isPartial } = together;
  const write = kind === 'write';
  const carrying = points.map((point): Carrying => {
    const { id, table, offset } = point;
    return { id, table, offset, length: pointWidth(point), write, point };
  });
  const layers = write && !isPartial ? apart(carrying) : [carrying];
  return layers.flatMap((layer) => {
    const outcome = planPoints(layer, device, cost);
    // Each point was found fit to be carried before; what does not fit is a mistake of the program.
    if (!outcome.ok) throw new Error(outcome.problem.message);
    return outcome.value.requests;
  });
}

/** As few layers as come by themselves, so that nothing in a layer overlaps. */
function apart(points: readonly Carrying[]): Carrying[][] {
  const layers: Carrying[][] = [];
  for (const point of [...points].sort((a, b) => a.offset - b.offset)) {
    const extent = { offset: point.offset, width: point.length };
    const layer = layers.find((candidate) => {
      const last = candidate.at(-1)!;
      return !overlaps({ offset: last.offset, width: last.length }, extent);
    });
    if (layer) layer.push(point);
    else layers.push([point]);
  }
  return layers;
}

function planned(
  { functionCode, table, offset, count, points }: CarryingRequest<Carrying>,
  { kind, carrierId, round, isPartial, isBroadcast, release, mark }: Together,
  device: Device,
  { endpoint, unitId, front, broadcastOn }: Way,
): PlannedRequest {
  const partial = isPartial ? (device.functionCodes.includes(MASK_WRITE) ? 'mask' : 'read') : null;
  const code = partial === 'mask' ? MASK_WRITE : functionCode;
  const broadcast = isBroadcast && broadcastOn ? { waitMs: broadcastMs(broadcastOn, code, count, front !== null) } : null;
  const id = [
    kind,
    round?.id ?? 'look',
    device.id,
    table,
    offset,
    count,
    ...(carrierId ? [carrierId] : []),
    ...(broadcast ? ['all'] : []),
    ...(mark ? [mark] : []),
  ].join(':');
  return {
    id,
    kind,
    carrierId,
    local: carrierId === device.id,
    endpointId: endpoint.id,
    deviceId: device.id,
    deviceName: device.name,
    unitId: broadcast ? BROADCAST_UNIT : unitId,
    functionCode: code,
    also: null,
    withId: null,
    functionCodes: device.functionCodes,
    table,
    offset,
    count,
    roundId: round?.id ?? null,
    periodMs: round?.periodMs ?? WATCH_PERIOD_MS,
    phaseMs: round?.phaseMs ?? 0,
    pauseMs: round?.pauseMs ?? null,
    priority: round?.priority ?? 10,
    delayMs: broadcast ? 0 : device.delayMs,
    timeoutMs: device.timeoutMs,
    tries: broadcast ? 1 : device.tries,
    points: points.map(({ point, length }) => ({ pointId: point.id, at: point.offset - offset, width: length })),
    broadcast,
    partial,
    release: release ? plannedRelease(release, device) : null,
  };
}

function plannedRelease({ point, words, when }: NonNullable<ValidRoute['release']>, device: Device): PlannedRelease {
  const { table, offset } = point;
  return { when, functionCode: codeToWrite(table, words.length, device), table, offset, values: words };
}

/** Who asks on the line itself waits from the last byte on; through a gateway, the bytes have to leave there first. */
function broadcastMs(line: ModbusLine, functionCode: number, count: number, isBehindGateway: boolean): number {
  const { requestMs } = lineTime({ settings: line, framing: line.framing, functionCode, count });
  return line.turnaroundMs + (isBehindGateway ? requestMs : 0);
}

/** On a serial line a request costs the time that it holds the line, and each register or bit the time of its bytes. */
function requestCost({ lines, ports }: ProjectDocument, deviceId: string): RequestCost {
  const port = ports.find((candidate) => candidate.deviceId === deviceId && candidate.kind === 'serial');
  const line = lines.find(({ id }) => id === port?.lineId);
  if (!isModbusLine(line)) return standardCost;
  const { framing } = line;
  const ms = (table: Table, count: number) => lineTime({ settings: line, framing, functionCode: readFunction(table).code, count }).totalMs;
  const perWord = ms('holding', 2) - ms('holding', 1);
  return { perRequest: ms('holding', 1) - perWord, perWord, perBit: perWord / 16 };
}
