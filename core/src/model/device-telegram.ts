import * as z from 'zod';
import { Id, Name, Note } from '../common/index.js';
import { Telegram } from '../telegram/index.js';

export const Ms = (least: number) =>
  z.int('A whole number of milliseconds.').min(least, `At least ${least} ms.`).max(3_600_000, 'At most an hour.');

/** When a telegram goes out: again and again, when one of its values has changed, or in answer to another. */
export const SentWhen = z.discriminatedUnion('on', [
  z.strictObject({ on: z.literal('period'), periodMs: Ms(20) }),
  z.strictObject({
    on: z.literal('change'),
    atLeastMs: Ms(20).nullable().default(null).describe('And as often at least; none: only then'),
  }),
  z.strictObject({ on: z.literal('request'), telegramId: Id.describe('The telegram to which it is the answer') }),
]);
export type SentWhen = z.infer<typeof SentWhen>;

/** A text message of a device on a text line: one that it sends, or one that it takes. */
export const DeviceTelegram = z
  .strictObject({
    id: Id,
    projectId: Id,
    deviceId: Id,
    name: Name,
    note: Note,
    direction: z.enum(['sent', 'taken']).describe('By its device'),
    telegram: Telegram,
    when: SentWhen,
    lostAfterMs: Ms(100).default(5000).describe('Its values are not good any more when no sound one came for so long'),
    timeoutMs: Ms(20).default(1000).describe('For one that has an answer: how long that is waited for'),
    tries: z.int('A whole number.').min(1, 'At least one try.').max(10, 'At most 10 tries.').default(2),
    samples: z
      .string()
      .max(20_000, 'At most 20 000 characters.')
      .default('')
      .describe('Lines by which it was made, control characters as <STX> or <02>'),
  })
  .superRefine(checkTelegram);
export type DeviceTelegram = z.infer<typeof DeviceTelegram>;

export function checkTelegram(
  { direction, when, id }: { direction: 'sent' | 'taken'; when: SentWhen; id: string },
  context: z.RefinementCtx,
): void {
  if (direction === 'taken' && when.on === 'request')
    context.addIssue({ code: 'custom', path: ['when'], message: 'What a device takes is sent to it at a period or on a change.' });
  if (when.on === 'request' && when.telegramId === id)
    context.addIssue({ code: 'custom', path: ['when', 'telegramId'], message: 'A telegram is no answer to itself.' });
}

/** Whether any telegram finds a field by a pattern, so that whoever reads its texts needs what runs patterns. */
export function hasPatterns({ telegrams }: { telegrams: readonly DeviceTelegram[] }): boolean {
  return telegrams.some(({ telegram }) => telegram.fields.some(({ at }) => 'pattern' in at));
}
