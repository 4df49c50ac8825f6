import { hash } from '../common/index.js';
import type { Endpoint, Plan } from '../plan/index.js';

/**
 * What the proof of a route rests on, as a short text that changes when any of it does: both ends, what is done on the way, and
 * the requests that carry it with where they go. Null where the route is not in the plan.
 */
export function fingerprint(plan: Plan, routeId: string): string | null {
  const rests = restsOf(plan, routeId);
  return rests && hash(JSON.stringify(rests, inOrder));
}

/** Whether what a proof was kept with still holds: null where its route was not in the plan. */
export function restsOnSame(plan: Plan, routeId: string, kept: string | null): boolean {
  return kept === fingerprint(plan, routeId) || (kept !== null && kept === olderFingerprint(plan, routeId));
}

/** As older versions made it: with the order in which fields came. */
export function olderFingerprint(plan: Plan, routeId: string): string | null {
  const rests = restsOf(plan, routeId);
  return rests && hash(JSON.stringify(rests));
}

/** Fields by name: rows have them in the order in which they came. */
function inOrder(_key: string, value: unknown): unknown {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** What is in a plan by its ids, for as long as somebody asks about it: of thousands of routes each rests on a few requests. */
const known = new WeakMap<Plan, ReturnType<typeof byId>>();

function byId({ routes, requests, endpoints }: Plan) {
  const of = <Row extends { id: string }>(rows: readonly Row[]) => new Map(rows.map((row) => [row.id, row]));
  return { routes: of(routes), requests: of(requests), endpoints: of(endpoints) };
}

function restsOf(plan: Plan, routeId: string): unknown[] | null {
  const rows = known.get(plan) ?? byId(plan);
  known.set(plan, rows);
  const route = rows.routes.get(routeId);
  if (!route) return null;
  const { source, destination, carry, transforms, carrierId, trigger, whileId, onlyDifferent, loss, others, valid } = route;
  const requests = [...route.alsoReadIds, route.readId, route.writeId].map((id) => {
    const request = rows.requests.get(id ?? '');
    const endpoint = rows.endpoints.get(request?.endpointId ?? '');
    if (!request || !endpoint) return null;
    const { unitId, functionCode, table, offset, count, partial, release } = request;
    return [unitId, functionCode, table, offset, count, partial, release, ...wayMark(endpoint)];
  });
  return [source, destination, carry, transforms, carrierId, trigger, whileId, onlyDifferent, loss, others, valid?.point, requests];
}

/** What of the way a value depends on: as it was before, the framing first. */
function wayMark(endpoint: Endpoint): unknown[] {
  if (endpoint.via === 'text') return [endpoint.settings, endpoint.telegrams];
  if (endpoint.via === 'station') return [endpoint.station];
  return [endpoint.framing, ...(endpoint.via === 'line' ? [endpoint.settings] : [endpoint.ip, endpoint.tcpPort])];
}
