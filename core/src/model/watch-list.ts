import * as z from 'zod';
import { Id, Name } from '../common/index.js';

/** How the registers of a watched point are written. */
export const Radix = z.enum(['decimal', 'signed', 'hex', 'binary', 'text']);
export type Radix = z.infer<typeof Radix>;

/** A point, or a route with both its ends. */
export const WatchItem = z.strictObject({
  of: z.enum(['point', 'route']),
  id: Id,
  radix: Radix.nullable().describe('None: as the list has it'),
});
export type WatchItem = z.infer<typeof WatchItem>;

/** What somebody wants to look at, in order, by a name. */
export const WatchList = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  radix: Radix,
  items: z.array(WatchItem).max(5000, 'At most 5000 rows.'),
});
export type WatchList = z.infer<typeof WatchList>;
