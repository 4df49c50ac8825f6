import { signalHolds } from '../can-line/index.js';
import { blockLeavesWithinMs, blockRefreshOf } from '../cyclic-line/index.js';
import type { FarKind } from './definition.js';

/** Values in the blocks of cyclic links. */
export const cyclic: FarKind = {
  has: ({ place }) => place.kind === 'cyclic',
  holds: (_, point, value) => signalHolds(point, value),
  ...{ leavesWithinMs: blockLeavesWithinMs, refreshOf: blockRefreshOf },
};
