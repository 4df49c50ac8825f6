import * as z from 'zod';
import { Id, namesOf } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** What a converter tells of a telegram beside its fields. */
export const telegramStates = [
  { name: 'valid', label: 'Its values are good: the last one was sound, and not long ago' },
  { name: 'sound', label: 'How many were sound' },
  { name: 'damaged', label: 'How many were not' },
  { name: 'skipped', label: 'How many numbers of its counter were left out' },
  { name: 'text', label: 'The last text' },
] as const;

/** What is told of a telegram as a whole. */
export const telegramState = definePlace({
  kind: 'telegramState',
  label: 'What is told of a telegram',
  schema: z.strictObject({
    kind: z.literal('telegramState'),
    telegramId: Id,
    state: z.enum(namesOf(telegramStates)),
    pinned: Pinned,
  }),
  partOf: 'telegram',
  messageOf: ({ telegramId }) => telegramId,
  directionOf: () => 'sent',
  isTold: true,
  inMessage: (place, telegramId) => ({ ...place, telegramId }),
  words: ({ state }, message) => `${state} of ${message}`,
});
