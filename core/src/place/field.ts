import * as z from 'zod';
import { Id } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** A field of a telegram. */
export const field = definePlace({
  kind: 'field',
  label: 'A field of a telegram',
  schema: z.strictObject({
    kind: z.literal('field'),
    telegramId: Id,
    field: z.string().min(1, 'Which field?').max(80, 'At most 80 characters.'),
    pinned: Pinned,
  }),
  partOf: 'telegram',
  messageOf: ({ telegramId }) => telegramId,
  directionOf: () => null,
  isTold: false,
  inMessage: (place, telegramId) => ({ ...place, telegramId }),
  words: (place, message) => `field ${place.field} of ${message}`,
});
