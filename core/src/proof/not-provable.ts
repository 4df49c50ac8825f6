import type { PlannedRoute } from '../plan/index.js';
import { stepOf } from '../steps/index.js';

/** Why sending values through a route would show nothing; null where it shows whether the route delivers. */
export function whyNotProvable({ trigger, transforms, source }: Pick<PlannedRoute, 'trigger' | 'transforms' | 'source'>): string | null {
  if (source.place.kind === 'record')
    return 'It is part of a frame that passes whole, and changes with each that comes, so nothing else can be held there.';
  if (trigger.on === 'start') return 'It goes out once at the start, so no value can be sent through it while it runs.';
  for (const { kind } of transforms) {
    const { inProof } = stepOf(kind);
    if (typeof inProof === 'object') return inProof.not;
  }
  return null;
}
