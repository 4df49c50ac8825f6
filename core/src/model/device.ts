import { z } from 'zod';
import { Area, Notation } from '../address/index.js';
import { Id, Name, Note } from './common.js';

/** Anything with a port on a line. */
export const Device = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  note: Note,
  kind: z.enum(['controller', 'field', 'gateway', 'converter']),
  notation: Notation.describe('How its papers write addresses'),
  areas: z.array(Area).max(32),
  timeoutMs: z.int('A whole number of milliseconds.').min(20, 'Under 20 ms no device answers reliably.').max(60_000, 'At most 60 000 ms.'),
  tries: z.int('A whole number.').min(1, 'At least one try.').max(10, 'At most 10 tries.'),
  standIn: Name.nullable().describe('Which stand-in plays it; null for none'),
});
export type Device = z.infer<typeof Device>;
