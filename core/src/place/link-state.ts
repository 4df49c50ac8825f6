import * as z from 'zod';
import { namesOf } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** What who opens a cyclic link tells of it beside its blocks. */
const linkTold = [
  { name: 'valid', label: 'The link runs, and the input is valid' },
  { name: 'count', label: 'How many updates came' },
  { name: 'missed', label: 'How many updates stayed away' },
  { name: 'lost', label: 'How many times it was lost' },
] as const;

/** What is told of a cyclic link as a whole. */
export const linkState = definePlace({
  kind: 'linkState',
  label: 'What is told of a cyclic link',
  schema: z.strictObject({ kind: z.literal('linkState'), state: z.enum(namesOf(linkTold)), pinned: Pinned }),
  partOf: null,
  messageOf: () => null,
  directionOf: () => 'sent',
  isTold: true,
  inMessage: (place) => place,
  words: ({ state }) => `${state} of the link`,
});
