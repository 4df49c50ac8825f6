import type { PlannedRequest } from './plan.js';
import type { RouteCells } from './route-cells.js';
import type { ValidRoute } from './valid-route.js';

/**
 * What is known from compiling the document before this one, so that after an edit only what it touches is worked out anew.
 * Rows of a document are never changed in place, so the same row is still right, as long as all that it rests on is the same.
 */
export class Memory {
  readonly cells = new WeakMap<ValidRoute, RouteCells>();
  private requests = new Map<string, { restsOn: readonly unknown[]; planned: RequestGroup }>();
  private used: typeof this.requests = new Map();
  private readonly values = new Map<string, { text: string; value: unknown }>();

  /** A value that is worked out for each document: the very same one as before, while it is equal to it. */
  same<T>(key: string, value: T): T {
    const text = JSON.stringify(value);
    const known = this.values.get(key);
    if (known?.text === text) return known.value as T;
    this.values.set(key, { text, value });
    return value;
  }

  /** The requests of a group, as they were while all that they rest on is the same. */
  requestsOf(key: string, restsOn: readonly unknown[], make: () => PlannedRequest[]): RequestGroup {
    const known = this.requests.get(key);
    const entry = known && areSame(known.restsOn, restsOn) ? known : { restsOn, planned: byPoint(make()) };
    this.used.set(key, entry);
    return entry.planned;
  }

  /** Forgets the requests of groups that are gone. */
  sweep(): void {
    this.requests = this.used;
    this.used = new Map();
  }
}

/** The requests of a group, and which of them carries each of its points. */
export interface RequestGroup {
  requests: readonly PlannedRequest[];
  byPoint: ReadonlyMap<string, PlannedRequest>;
}

function byPoint(requests: readonly PlannedRequest[]): RequestGroup {
  return { requests, byPoint: new Map(requests.flatMap((request) => request.points.map(({ pointId }) => [pointId, request] as const))) };
}

export function areSame(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a.length !== b.length) return false;
  for (let index = 0; index < a.length; index++) if (a[index] !== b[index]) return false;
  return true;
}
