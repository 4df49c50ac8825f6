import * as z from 'zod';
import { Id, Name } from '../common/index.js';

/**
 * Routes carried at one period, with a priority: the lower number goes first. With a pause it is a chain instead: its requests
 * to one device or gateway follow each other as fast as that allows, and it is begun anew if it stands still for its period.
 */
export const Round = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  periodMs: z
    .int('A whole number of milliseconds.')
    .min(10, 'The shortest period is 10 ms.')
    .max(86_400_000, 'The longest period is a day.'),
  phaseMs: z
    .int('A whole number of milliseconds.')
    .min(0, 'Not below 0 ms.')
    .max(86_400_000, 'At most a day.')
    .default(0)
    .describe('How long after the start it goes out first'),
  pauseMs: z
    .int('A whole number of milliseconds.')
    .min(0, 'Not below 0 ms.')
    .max(60_000, 'At most 60 000 ms.')
    .nullable()
    .default(null)
    .describe('For a chain: between one request and the next; none: by the clock'),
  priority: z.int('A whole number.').min(0, 'From 0, which goes first.').max(9, 'To 9, which goes last.'),
});
export type Round = z.infer<typeof Round>;
