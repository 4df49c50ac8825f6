import type { PlannedRoute } from '../plan/index.js';
import { stepOf } from '../steps/index.js';

/** Why sending values through a route would show nothing; null where it shows whether the route delivers. */
export function whyNotProvable({ trigger, transforms }: Pick<PlannedRoute, 'trigger' | 'transforms'>): string | null {
  if (trigger.on === 'start') return 'It goes out once at the start, so no value can be sent through it while it runs.';
  for (const { kind } of transforms) {
    const { inProof } = stepOf(kind);
    if (typeof inProof === 'object') return inProof.not;
  }
  return null;
}
