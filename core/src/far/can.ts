import { frameLeavesWithinMs, frameRefreshOf, signalHolds } from '../can-line/index.js';
import type { FarKind } from './definition.js';

/** Signals of frames on CAN. */
export const can: FarKind = {
  has: ({ place }) => place.kind === 'signal',
  holds: (_, point, value) => signalHolds(point, value),
  ...{ leavesWithinMs: frameLeavesWithinMs, refreshOf: frameRefreshOf },
};
