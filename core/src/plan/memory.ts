import type { Finding } from '../findings/index.js';
import type { Route } from '../model/index.js';
import type { RowFacts } from './facts.js';
import type { PlannedRequest, PlannedRoute } from './plan.js';
import type { Sound } from './sound-row.js';

/**
 * What is known from compiling the document before this one, so that after an edit only what it touches is worked out anew.
 * Rows of a document are never changed in place, so the same row is still right, as long as all that it rests on is the same.
 */
export class Memory {
  readonly routes = new WeakMap<Route, { restsOn: readonly unknown[]; sound: Sound | null; findings: readonly Finding[] }>();
  readonly rows = new WeakMap<Sound, RowFacts>();
  readonly planned = new WeakMap<Sound, PlannedRoute>();
  private requests = new Map<string, { restsOn: readonly unknown[]; made: Made }>();
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
  requestsOf(key: string, restsOn: readonly unknown[], make: () => PlannedRequest[]): Made {
    const known = this.requests.get(key);
    const entry = known && areSame(known.restsOn, restsOn) ? known : { restsOn, made: byPoint(make()) };
    this.used.set(key, entry);
    return entry.made;
  }

  /** Forgets the requests of groups that are gone. */
  sweep(): void {
    this.requests = this.used;
    this.used = new Map();
  }
}

/** The requests of a group, and which of them carries each of its points. */
export interface Made {
  requests: readonly PlannedRequest[];
  byPoint: ReadonlyMap<string, PlannedRequest>;
}

function byPoint(requests: readonly PlannedRequest[]): Made {
  return { requests, byPoint: new Map(requests.flatMap((request) => request.points.map(({ pointId }) => [pointId, request] as const))) };
}

export function areSame(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a.length !== b.length) return false;
  for (let index = 0; index < a.length; index++) if (a[index] !== b[index]) return false;
  return true;
}
