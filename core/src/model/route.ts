import * as z from 'zod';
import { Id, Name, Note } from './common.js';

/** How a value crosses: its registers as they are, or decoded at the source and encoded as the destination wants it. */
export const Carry = z.enum(['registers', 'value']);
export type Carry = z.infer<typeof Carry>;

/** One value carried from a source point to a destination point. */
export const Route = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  note: Note,
  sourceId: Id,
  destinationId: Id,
  roundId: Id,
  carry: Carry,
});
export type Route = z.infer<typeof Route>;
