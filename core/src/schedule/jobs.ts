import type { Plan } from '../plan/index.js';
import type { BackOffRule, Job, Lane } from './scheduler.js';

/** How the runner lets a device rest that does not answer: for 1 s after 4 tries in a row, then 2 s, then every 4 s. */
export const runnerBackOff: BackOffRule = { afterTries: 4, firstMs: 1000, factor: 2, maxMs: 4000 };

/** A plan as the scheduler knows it: endpoints are lanes; reads are released by the clock, writes when all that feeds them is read. */
export function jobsOf({ endpoints, requests, routes }: Plan): { lanes: Lane[]; jobs: Job[] } {
  const fedBy = new Map<string, Set<string>>();
  const feed = (writeId: string, readIds: readonly string[]) => {
    const known = fedBy.get(writeId) ?? new Set();
    for (const id of readIds) known.add(id);
    fedBy.set(writeId, known);
  };
  for (const { readId, alsoReadIds, writeId, valid } of routes) {
    feed(writeId, [readId, ...alsoReadIds]);
    if (valid) feed(valid.writeId, [readId, ...alsoReadIds]);
  }
  return {
    lanes: endpoints.map(({ id, concurrent }) => ({ id, concurrent })),
    jobs: requests.map(({ id, endpointId, deviceId, kind, priority, periodMs }): Job => {
      const release =
        kind === 'write'
          ? ({ on: 'after', ids: [...(fedBy.get(id) ?? [])], pauseMs: 0, chain: null } as const)
          : ({ on: 'period', periodMs, phaseMs: 0 } as const);
      return { id, laneId: endpointId, priority, groupId: deviceId, release };
    }),
  };
}
