import { entryNumber, formatAddress, isBitTable, LAST_OFFSET, type Table, tableNames } from '../address/index.js';
import { functionOf } from '../frame/index.js';
import { formatSettings } from '../line/index.js';
import { type Device, type Point, pointWidth, type ProjectDocument } from '../model/index.js';
import type { Endpoint, Plan, PlannedRequest, PlannedRoute } from './plan.js';
import { requestTimeMs, serialLinesOf } from './request-time.js';
import { describeChain } from '../steps/index.js';

/** All requests of one carrier, in its own terms. */
export interface RequestSheet {
  /** Null for Plain Envoy. */
  carrierId: string | null;
  carrier: string;
  /** How its package takes a start, in words. */
  entry: string;
  rows: SheetRow[];
}

/** One request as it is typed into a carrier's package. */
export interface SheetRow {
  requestId: string;
  /** The two rows of an exchange (function 23) have the same one. */
  number: number;
  /** Where it goes: an address and port, or a line and its settings. */
  connection: string;
  unitId: number;
  device: string;
  functionCode: number;
  functionName: string;
  /** The start as this package wants it typed. */
  start: number;
  /** The start on the wire, zero-based. */
  offset: number;
  count: number;
  /** Where the registers land in, or come from, the carrier's own memory; null for Plain Envoy, which needs no place. */
  local: LocalBlock | null;
  trigger: string;
  timeoutMs: number;
  tries: number;
  /** How long it holds its serial line; null where it is on none, and for the second row of an exchange. */
  expectedMs: number | null;
  /** How each number came about, a sentence each. */
  why: string[];
}

/** A stretch of the carrier's own memory. `isDirect` where values need no work of its program: they are where they are wanted. */
export interface LocalBlock {
  first: string;
  last: string;
  isDirect: boolean;
  /** What its program has to do with each register of the block. */
  work: string[];
}

/** The request sheet of each carrier that has anything to carry, Plain Envoy last. */
export function requestSheets(document: ProjectDocument, plan: Plan): RequestSheet[] {
  const carriers = [...new Set(plan.requests.map(({ carrierId }) => carrierId))].sort((a, b) => Number(a === null) - Number(b === null));
  return carriers.map((carrierId) => sheetOf(document, plan, carrierId));
}

function sheetOf(document: ProjectDocument, plan: Plan, carrierId: string | null): RequestSheet {
  const carrier = document.devices.find(({ id }) => id === carrierId) ?? null;
  const lines = serialLinesOf(document);
  const endpoints = new Map(plan.endpoints.map((endpoint) => [endpoint.id, endpoint]));
  const memory = carrier ? memoryOf(carrier, document.points) : null;
  const byRequest = new Map<string, PlannedRoute[]>();
  for (const route of plan.routes) {
    for (const id of new Set([route.readId, route.writeId])) {
      const known = byRequest.get(id);
      if (known) known.push(route);
      else byRequest.set(id, [route]);
    }
  }
  const told = new Map(plan.routes.flatMap(({ valid, name }) => (valid ? [[valid.writeId, name] as const] : [])));
  const requests = plan.requests.filter((request) => request.carrierId === carrierId && !request.local && request.kind !== 'watch');
  const inOrder = requests
    .filter(({ withId }) => withId === null)
    .map((request) => [request, ...requests.filter(({ withId }) => withId === request.id)]);
  const rows = inOrder.flatMap((ofOne, index) =>
    ofOne.map((request): SheetRow => {
      const line = lines.get(request.deviceId);
      const routes = byRequest.get(request.id) ?? [];
      const local = memory ? memory.place(request, routes) : null;
      const start = carrier ? entryNumber(request.offset, carrier.entry) : request.offset;
      return {
        requestId: request.id,
        number: index + 1,
        connection: connectionOf(endpoints.get(request.endpointId), line ? `${line.name}, ${formatSettings(line)}` : null),
        unitId: request.unitId,
        device: request.deviceName,
        functionCode: request.functionCode,
        functionName: nameOf(request),
        start,
        offset: request.offset,
        count: request.count,
        local,
        trigger: triggerOf(request, routes),
        timeoutMs: request.timeoutMs,
        tries: request.tries,
        expectedMs: line && request.withId === null ? Math.round(requestTimeMs(line, request) * 10) / 10 : null,
        why: [...whyOf(request, carrier, start, local, document), ...whatItTells(told.get(request.id))],
      };
    }),
  );
  const subtracts = carrier?.entry === 'subtractsOne';
  return {
    carrierId,
    carrier: carrier?.name ?? 'Plain Envoy',
    entry: subtracts ? 'its package takes one-based numbers, and subtracts one by itself' : 'starts are typed as they go over the wire',
    rows,
  };
}

/** An exchange has two rows, one for what it writes and one for what it reads. */
function nameOf({ functionCode, also, withId }: PlannedRequest): string {
  const name = functionOf(functionCode)?.name ?? '';
  return also ? `${name}: written` : withId ? `${name}: read` : name;
}

function connectionOf(endpoint: Endpoint | undefined, line: string | null): string {
  if (!endpoint) return line ?? '';
  if (endpoint.via === 'line') return `${endpoint.name}, ${formatSettings(endpoint.settings)}`;
  const dialled = `${endpoint.ip}:${endpoint.tcpPort}${endpoint.framing === 'rtu' ? ' RTU' : ''}`;
  return line ? `${dialled}, then ${line}` : dialled;
}

function triggerOf({ periodMs, pauseMs, kind }: PlannedRequest, routes: readonly PlannedRoute[]): string {
  const each = pauseMs === null ? `every ${periodMs} ms` : `${pauseMs} ms after the one before`;
  const kinds = new Set(routes.map(({ trigger }) => trigger.on));
  if (kind === 'read' || kinds.size !== 1) return each;
  return { round: each, change: 'on change', edge: 'on a rising edge', start: 'once at start' }[[...kinds][0]!];
}

function whatItTells(route: string | undefined): string[] {
  return route === undefined ? [] : [`It is on while the value of ${route} can be trusted, and off once it is lost.`];
}

function whyOf(
  request: PlannedRequest,
  carrier: Device | null,
  start: number,
  local: LocalBlock | null,
  document: ProjectDocument,
): string[] {
  const { offset, count, table, points, partial, release } = request;
  const last = offset + count - 1;
  const things = count === 1 ? tableNames[table].one : tableNames[table].many;
  const typed =
    carrier && start !== offset
      ? `${offset} zero-based; this package takes one-based numbers, so type ${start}.`
      : `${offset} zero-based, typed as it is.`;
  const named = points.reduce((sum, { width }) => sum + width, 0);
  const sentences = [typed, `${last} − ${offset} + 1 = ${count} ${things}.`];
  if (named < count) sentences.push(`${count - named} of them nobody asked for; one request across them costs less than two.`);
  if (request.also ?? request.withId)
    sentences.push(
      'One transaction writes and then reads, by function 23: what is written is in the carrier’s own memory, so the read waits for nobody.',
    );
  if (partial === 'mask') sentences.push('Only some bits of the register are ours; function 22 leaves the others alone.');
  if (partial === 'read')
    sentences.push('Only some bits of the register are ours, so it is read just before and its other bits are written back.');
  if (release) sentences.push(`Offset ${release.offset} is set to ${release.values.join(' ')} just ${release.when}.`);
  const owner = document.devices.find(({ id }) => id === request.deviceId);
  if (owner && owner.notation !== 'pdu')
    sentences.push(`In the papers of ${owner.name} it begins at ${formatAddress({ table, offset }, owner.notation, owner.areas)}.`);
  if (local && !local.isDirect)
    sentences.push(`The block ${local.first} to ${local.last} is free; the carrier’s program works from there.`);
  return sentences;
}

/**
 * Places blocks in a carrier's own memory: where the values are wanted, if each register can go straight there and nothing
 * else is in between; else in a free stretch past everything that has a name, each block after the one before.
 */
function memoryOf(carrier: Device, points: readonly Point[]) {
  const own = points.filter(({ deviceId }) => deviceId === carrier.id);
  const free = new Map<Table, number>();
  const print = (table: Table, offset: number) => formatAddress({ table, offset }, carrier.notation, carrier.areas);
  /** Where values lie that the carrier only passes on, from one device to another; by route. */
  const passed = new Map<string, string>();
  const passOn = (route: PlannedRoute, request: PlannedRequest, first: number, table: Table): string[] => {
    if (route.source.deviceId === carrier.id || route.destination.deviceId === carrier.id) return [];
    if (request.kind === 'read') {
      passed.set(route.id, print(table, first + route.source.offset - request.offset));
      return [];
    }
    const from = passed.get(route.id);
    const at = print(table, first + route.destination.offset - request.offset);
    return from && route.destination.deviceId === request.deviceId ? [`${from} ${route.source.name}: ${stepsText(route)}, to ${at}`] : [];
  };
  return {
    place(request: PlannedRequest, routes: readonly PlannedRoute[]): LocalBlock | null {
      const table: Table = isBitTable(request.table) ? 'coil' : 'holding';
      const ends = routes.flatMap((route) => endsAt(route, request, carrier.id));
      const base = directBase(request, ends, own, table);
      if (base !== null) return { first: print(table, base), last: print(table, base + request.count - 1), isDirect: true, work: [] };
      const taken = own.reduce((end, point) => (point.table === table ? Math.max(end, point.offset + pointWidth(point)) : end), 0);
      const first = free.get(table) ?? Math.ceil(taken / 10) * 10;
      if (first + request.count - 1 > LAST_OFFSET) return null;
      free.set(table, first + request.count);
      const work = ends.map(({ route, far, near }) => {
        const at = print(table, first + far.offset - request.offset);
        const place = formatAddress(near, carrier.notation, carrier.areas);
        return request.kind === 'write'
          ? `${place} ${near.name}: ${stepsText(route)}, to ${at}`
          : `${at}: ${stepsText(route)}, to ${place} ${near.name}`;
      });
      work.push(...routes.flatMap((route) => passOn(route, request, first, table)));
      return { first: print(table, first), last: print(table, first + request.count - 1), isDirect: false, work };
    },
  };
}

function stepsText({ transforms, carry, source, destination }: PlannedRoute): string {
  return describeChain(transforms) || (carry === 'value' ? `${source.type} to ${destination.type}` : 'as it is');
}

interface Ends {
  route: PlannedRoute;
  /** At the device that is asked, and in the carrier's own memory. */
  far: Point;
  near: Point;
}

function endsAt(route: PlannedRoute, request: PlannedRequest, carrierId: string): Ends[] {
  const [far, near] = request.kind === 'write' ? [route.destination, route.source] : [route.source, route.destination];
  return near.deviceId === carrierId && far.deviceId === request.deviceId ? [{ route, far, near }] : [];
}

function directBase(request: PlannedRequest, ends: readonly Ends[], own: readonly Point[], table: Table): number | null {
  const bases = new Set(
    ends.map(({ route, far, near }) => {
      const isPlain = route.carry === 'registers' && route.transforms.length === 0 && far.bit === null && near.bit === null;
      return isPlain && near.table === table ? near.offset - (far.offset - request.offset) : -1;
    }),
  );
  const [base] = bases;
  if (bases.size !== 1 || base === undefined || base < 0) return null;
  const carried = new Set(ends.map(({ near }) => near.id));
  const inTheWay = own.some(
    (point) =>
      point.table === table && !carried.has(point.id) && point.offset < base + request.count && base < point.offset + pointWidth(point),
  );
  return inTheWay && request.kind === 'read' ? null : base;
}
