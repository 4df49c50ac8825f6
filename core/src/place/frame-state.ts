import * as z from 'zod';
import { Id, namesOf } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** What a converter tells of a frame beside its signals. */
export const frameStates = [
  { name: 'valid', label: 'It came, and not long ago' },
  { name: 'count', label: 'How many came' },
  { name: 'lost', label: 'How many times it stayed away for too long' },
  { name: 'done', label: 'The count of the last that went out' },
] as const;

/** What is told of a frame as a whole, as whether a node that sends it lives. */
export const frameState = definePlace({
  kind: 'frameState',
  label: 'What is told of a frame',
  schema: z.strictObject({
    kind: z.literal('frameState'),
    frameId: Id,
    state: z.enum(namesOf(frameStates)),
    pinned: Pinned,
  }),
  partOf: 'frame',
  messageOf: ({ frameId }) => frameId,
  directionOf: () => 'sent',
  isTold: true,
  inMessage: (place, frameId) => ({ ...place, frameId }),
  words: ({ state }, message) => `${state} of ${message}`,
});
