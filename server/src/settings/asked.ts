import { z } from 'zod';
import { On } from '../prove/index.js';

const Of = {
  on: On,
  deviceId: z.uuid('That is no id of a device.'),
};

export const AskSettingsRead = z.strictObject({
  ...Of,
  pointIds: z.array(z.uuid('That is no id of a point.')).min(1, 'At least one setting.'),
  everyMs: z
    .int('A whole number of milliseconds.')
    .min(200, 'At least 200 ms.')
    .max(60_000, 'At most a minute.')
    .nullable()
    .default(null)
    .describe('Again and again, until nobody listens any more'),
});
export const AskSnapshot = z.strictObject({ ...Of, note: z.string().max(200, 'At most 200 characters.') });
export const AskSettingsWrite = z.strictObject({
  ...Of,
  values: z
    .array(
      z.strictObject({
        pointId: z.uuid('That is no id of a point.'),
        words: z
          .array(z.int().min(0).max(0xffff))
          .min(1)
          .max(125)
          .describe('The registers that it shall hold; a bit of a register at its place'),
      }),
    )
    .min(1, 'At least one setting.')
    .max(5000, 'At most 5000 settings at a time.'),
});
export type AskSettingsRead = z.infer<typeof AskSettingsRead>;
export type AskSettingsWrite = z.infer<typeof AskSettingsWrite>;
export type AskSnapshot = z.infer<typeof AskSnapshot>;
