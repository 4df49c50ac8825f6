import type { Plan, PlannedRequest } from '../plan/index.js';
import type { BackOffRule, Job, Lane, ReleaseRule } from './scheduler.js';

/** How the runner lets a device rest that does not answer: for 1 s after 4 tries in a row, then 2 s, then every 4 s. */
export const runnerBackOff: BackOffRule = { afterTries: 4, firstMs: 1000, factor: 2, maxMs: 4000 };

/**
 * A plan as the scheduler knows it: endpoints are lanes; reads are released by the clock, writes when all that feeds them is
 * read. A read that comes along with a write is no job of its own.
 */
export function jobsOf({ endpoints, requests, routes }: Plan): { lanes: Lane[]; jobs: Job[] } {
  const fedBy = new Map<string, Set<string>>();
  const along = new Map(requests.flatMap(({ id, withId }) => (withId ? [[id, withId] as const] : [])));
  const feed = (writeId: string, readIds: readonly string[]) => {
    const known = fedBy.get(writeId) ?? new Set();
    for (const id of readIds) known.add(along.get(id) ?? id);
    fedBy.set(writeId, known);
  };
  for (const { readId, alsoReadIds, writeId, valid } of routes) {
    feed(writeId, [readId, ...alsoReadIds]);
    if (valid) feed(valid.writeId, [readId, ...alsoReadIds]);
  }
  const own = requests.filter(({ withId }) => withId === null);
  const chains = chainsOf(own);
  return {
    lanes: endpoints.map(({ id, concurrent }) => ({ id, concurrent })),
    jobs: own.map((request): Job => {
      const { id, endpointId, deviceId, kind, priority } = request;
      const release: ReleaseRule =
        kind === 'write'
          ? { on: 'after', ids: [...(fedBy.get(id) ?? [])], pauseMs: 0, chain: null }
          : (chains.get(id) ?? { on: 'period', periodMs: request.periodMs, phaseMs: request.phaseMs });
      return { id, laneId: endpointId, priority, groupId: deviceId, release };
    }),
  };
}

/** The reads of a chain follow each other in the order of the plan, on each lane by itself, and the first follows the last. */
function chainsOf(requests: readonly PlannedRequest[]): Map<string, ReleaseRule> {
  const chains = new Map<string, PlannedRequest[]>();
  for (const request of requests) {
    if (request.kind !== 'read' || request.pauseMs === null) continue;
    const key = `${request.carrierId} ${request.roundId} ${request.endpointId}`;
    chains.set(key, [...(chains.get(key) ?? []), request]);
  }
  return new Map(
    [...chains].flatMap(([key, links]) =>
      links.map(({ id, pauseMs, periodMs }, index): [string, ReleaseRule] => {
        const before = links.at(index - 1)!.id;
        return [id, { on: 'after', ids: [before], pauseMs: pauseMs!, chain: { id: key, isFirst: index === 0, restartMs: periodMs } }];
      }),
    ),
  );
}
