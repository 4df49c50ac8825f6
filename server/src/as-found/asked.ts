import { z } from 'zod';
import { On } from '../prove/index.js';

/** What is looked at, and which revision of the project says where it is. */
export const AskFound = z.strictObject({
  on: On,
  revision: z
    .int('A whole number.')
    .min(0, 'Revisions count from 0.')
    .nullable()
    .default(null)
    .describe('Null for the project as it is now'),
  ids: z
    .array(z.uuid('That is no id of a device or a line.'))
    .min(1, 'At least one device or line.')
    .max(10_000, 'At most 10 000 devices and lines at a time.')
    .nullable()
    .describe('Devices and lines; null for all devices'),
  sweeps: z.boolean().default(false).describe('With all devices also who else answers on each line'),
});
export type AskFound = z.infer<typeof AskFound>;
