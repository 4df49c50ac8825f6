import { READ_WRITE } from '../frame/index.js';
import type { PlannedRequest, PlannedRoute } from './plan.js';

/**
 * Joins a write and a read of one device into one transaction (function 23, application protocol V1.1b3, 6.17), where the
 * device has it and it only helps: what is written comes from the carrier’s own memory, so that the read never waits for
 * another device, and it goes out in each round as a whole. Both requests stay in the plan and name each other.
 */
export function joinExchanges(requests: readonly PlannedRequest[], routes: readonly PlannedRoute[]): PlannedRequest[] {
  const able = requests.filter(({ functionCodes, local, table }) => !local && table === 'holding' && functionCodes.includes(READ_WRITE));
  if (able.length === 0) return [...requests];
  const held = heldBack(requests, routes);
  const writes = able.filter(
    ({ id, kind, partial, broadcast, release }) => kind === 'write' && !partial && !broadcast && !release && !held.has(id),
  );
  const free = new Set(able.filter(({ kind, pauseMs }) => kind === 'read' && pauseMs === null));
  const joined = new Map<string, PlannedRequest>();
  for (const write of writes) {
    const read = [...free].find((candidate) => isOfOneRound(candidate, write));
    if (!read) continue;
    free.delete(read);
    const { id, offset, count } = read;
    joined.set(write.id, { ...write, functionCode: READ_WRITE, also: { id, offset, count } });
    joined.set(id, { ...read, functionCode: READ_WRITE, withId: write.id });
  }
  return requests.map((request) => joined.get(request.id) ?? request);
}

function isOfOneRound(a: PlannedRequest, b: PlannedRequest): boolean {
  return a.deviceId === b.deviceId && a.carrierId === b.carrierId && a.roundId === b.roundId;
}

/** Writes that wait for another device, or that do not always go out. */
function heldBack(requests: readonly PlannedRequest[], routes: readonly PlannedRoute[]): Set<string> {
  const local = new Set(requests.flatMap(({ id, local }) => (local ? [id] : [])));
  const held = new Set<string>();
  for (const { writeId, readId, alsoReadIds, valid, trigger, whileId, onlyDifferent } of routes) {
    const isLocal = [readId, ...alsoReadIds].every((id) => local.has(id));
    if (!isLocal || trigger.on !== 'round' || whileId !== null || onlyDifferent) held.add(writeId);
    if (valid) held.add(valid.writeId);
  }
  return held;
}
