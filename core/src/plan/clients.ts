import type { PlannedRequest } from './plan.js';

/** How many carriers connect to each device that is dialled, Plain Envoy among them; a carrier's own memory needs no connection. */
export function clientsOf(requests: readonly PlannedRequest[]): Map<string, number> {
  const carriers = new Map<string, Set<string | null>>();
  for (const { endpointId, carrierId, local } of requests) {
    if (local) continue;
    const known = carriers.get(endpointId);
    if (known) known.add(carrierId);
    else carriers.set(endpointId, new Set([carrierId]));
  }
  return new Map([...carriers].map(([id, of]) => [id, of.size]));
}
