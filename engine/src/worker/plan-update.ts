import type { Plan } from '@plain-envoy/core/plan';
import { isDeepStrictEqual } from 'node:util';

/** A plan as it is told after another: what both have alike is named by its id only. */
export interface PlanUpdate {
  endpoints: (Plan['endpoints'][number] | string)[];
  requests: (Plan['requests'][number] | string)[];
  routes: (Plan['routes'][number] | string)[];
}

type Row = { id: string };

/** What is to be told of a plan to somebody who has another; null where both are the same. */
export function planUpdate(before: Plan, after: Plan): PlanUpdate | null {
  const update: PlanUpdate = {
    endpoints: told(before.endpoints, after.endpoints),
    requests: told(before.requests, after.requests),
    routes: told(before.routes, after.routes),
  };
  const isSame = (rows: readonly (Row | string)[], known: readonly Row[]) =>
    rows.length === known.length && rows.every((row, index) => row === known[index]!.id);
  const { endpoints, requests, routes } = before;
  return isSame(update.endpoints, endpoints) && isSame(update.requests, requests) && isSame(update.routes, routes) ? null : update;
}

/** The plan that was told. */
export function updated(before: Plan, { endpoints, requests, routes }: PlanUpdate): Plan {
  return {
    endpoints: whole(before.endpoints, endpoints),
    requests: whole(before.requests, requests),
    routes: whole(before.routes, routes),
  };
}

function told<T extends Row>(before: readonly T[], after: readonly T[]): (T | string)[] {
  const known = new Map(before.map((row) => [row.id, row]));
  return after.map((row) => {
    const same = known.get(row.id);
    return same === row || (same !== undefined && isDeepStrictEqual(same, row)) ? row.id : row;
  });
}

function whole<T extends Row>(before: readonly T[], rows: readonly (T | string)[]): T[] {
  const known = new Map(before.map((row) => [row.id, row]));
  return rows.map((row) => (typeof row === 'string' ? known.get(row)! : row));
}
