import { fieldHolds, leavesWithinMs, refreshOf } from '../text-line/index.js';
import type { FarKind } from './definition.js';

/** Fields of telegrams. */
export const text: FarKind = {
  has: ({ place }) => place.kind === 'field',
  ...{ holds: fieldHolds, leavesWithinMs, refreshOf },
};
