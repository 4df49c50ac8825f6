import { entryNumber } from '../address/index.js';
import { askedFor } from '../converter/index.js';
import { framingOf, functionOf } from '../frame/index.js';
import { formatSettings } from '../line/index.js';
import type { ProjectDocument } from '../model/index.js';
import { requestTimeMs, serialLinesOf } from '../occupancy/index.js';
import type { Endpoint, Plan, PlannedRequest, PlannedRoute } from './plan.js';
import { type LocalBlock, memoryOf } from './local-blocks.js';
import { whyOf } from './request-reasons.js';

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

/** The request sheet of each carrier that has anything to carry, Plain Envoy last. */
export function requestSheets(document: ProjectDocument, plan: Plan): RequestSheet[] {
  const carriers = [...new Set(plan.requests.map(({ carrierId }) => carrierId))].sort((a, b) => Number(a === null) - Number(b === null));
  return carriers.map((carrierId) => sheetOf(document, plan, carrierId));
}

function sheetOf(document: ProjectDocument, plan: Plan, carrierId: string | null): RequestSheet {
  const carrier = document.devices.find(({ id }) => id === carrierId) ?? null;
  const lines = serialLinesOf(document);
  const endpoints = new Map(plan.endpoints.map((endpoint) => [endpoint.id, endpoint]));
  const memory = carrier ? memoryOf(carrier, document.points, askedFor(document)) : null;
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
        device: request.broadcast ? `every unit of ${line?.name ?? 'the line'}` : request.deviceName,
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
        why: whyOf(request, { carrier, start, local, told: told.get(request.id) }, document),
      };
    }),
  );
  const isOneBased = carrier?.entry === 'subtractsOne';
  return {
    carrierId,
    carrier: carrier?.name ?? 'Plain Envoy',
    entry: isOneBased ? 'one-based entry, the first register is typed as 1' : 'zero-based entry, starts are typed as they go over the wire',
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
  if (endpoint.via === 'station')
    return `${endpoint.name}, Plain Envoy is ${endpoint.station.outstation ? 'the control station' : 'an outstation'}`;
  if (endpoint.via !== 'ethernet') return `${endpoint.name}, ${formatSettings(endpoint.settings)}`;
  const dialled = `${endpoint.ip}:${endpoint.tcpPort}${endpoint.framing === 'tcp' ? '' : ` ${framingOf(endpoint.framing).label}`}`;
  return line ? `${dialled}, then ${line}` : dialled;
}

function triggerOf({ periodMs, pauseMs, kind }: PlannedRequest, routes: readonly PlannedRoute[]): string {
  const each = pauseMs === null ? `every ${periodMs} ms` : `${pauseMs} ms after the one before`;
  const kinds = new Set(routes.map(({ trigger }) => trigger.on));
  if (kind === 'read' || kinds.size !== 1) return each;
  return { round: each, change: 'on change', edge: 'on a rising edge', start: 'once at start' }[[...kinds][0]!];
}
