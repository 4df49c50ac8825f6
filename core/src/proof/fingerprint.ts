import type { Plan } from '../plan/index.js';

/**
 * What the proof of a route rests on, as a short text that changes when any of it does: both ends, what is done on the way, and
 * the requests that carry it with where they go. Null where the route is not in the plan.
 */
export function fingerprint(plan: Plan, routeId: string): string | null {
  const route = plan.routes.find(({ id }) => id === routeId);
  if (!route) return null;
  const { source, destination, carry, transforms, carrierId, trigger, whileId, onlyDifferent, loss, others, valid } = route;
  const requests = [...route.alsoReadIds, route.readId, route.writeId].map((id) => {
    const request = plan.requests.find((row) => row.id === id);
    const endpoint = plan.endpoints.find((row) => row.id === request?.endpointId);
    if (!request || !endpoint) return null;
    const { unitId, functionCode, table, offset, count, partial, release } = request;
    const way = endpoint.via === 'line' ? [endpoint.settings] : [endpoint.ip, endpoint.tcpPort];
    return [unitId, functionCode, table, offset, count, partial, release, endpoint.framing, ...way];
  });
  const rests = [source, destination, carry, transforms, carrierId, trigger, whileId, onlyDifferent, loss, others, valid?.point, requests];
  return hash(JSON.stringify(rests));
}

/** 53 bits, which is enough to tell two states of one route apart; it is no defence against anybody (after cyrb53). */
function hash(text: string): string {
  let [a, b] = [0xdead_beef, 0x41c6_ce57];
  for (let index = 0; index < text.length; index++) {
    const code = text.charCodeAt(index);
    a = Math.imul(a ^ code, 2_654_435_761);
    b = Math.imul(b ^ code, 1_597_334_677);
  }
  a = Math.imul(a ^ (a >>> 16), 2_246_822_507) ^ Math.imul(b ^ (b >>> 13), 3_266_489_909);
  b = Math.imul(b ^ (b >>> 16), 2_246_822_507) ^ Math.imul(a ^ (a >>> 13), 3_266_489_909);
  return (4_294_967_296 * (2_097_151 & b) + (a >>> 0)).toString(36);
}
