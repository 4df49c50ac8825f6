import * as z from 'zod';
import { Id, Name } from './common.js';

/** Routes carried at one period, with a priority: the lower number goes first. */
export const Round = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  periodMs: z
    .int('A whole number of milliseconds.')
    .min(10, 'The shortest period is 10 ms.')
    .max(86_400_000, 'The longest period is a day.'),
  priority: z.int('A whole number.').min(0, 'From 0, which goes first.').max(9, 'To 9, which goes last.'),
});
export type Round = z.infer<typeof Round>;
