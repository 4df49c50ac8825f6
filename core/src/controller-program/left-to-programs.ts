import type { Plan } from '../plan/index.js';

/** What is left of a plan where some carriers run their own programs: their routes and requests are not made by anybody else. */
export function leftToPrograms(plan: Plan, carrierIds: ReadonlySet<string>): Plan {
  const isOthers = ({ carrierId }: { carrierId: string | null }) => carrierId === null || !carrierIds.has(carrierId);
  return { ...plan, requests: plan.requests.filter(isOthers), routes: plan.routes.filter(isOthers) };
}
