import { eventHolds, eventLeavesWithinMs, eventRefreshOf } from '../telecontrol-line/index.js';
import type { FarKind } from './definition.js';

/** Points of telecontrol stations. */
export const telecontrol: FarKind = {
  has: ({ place }) => place.kind === 'event',
  holds: eventHolds,
  ...{ leavesWithinMs: eventLeavesWithinMs, refreshOf: eventRefreshOf },
};
