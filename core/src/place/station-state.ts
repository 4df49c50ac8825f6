import * as z from 'zod';
import { namesOf } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** What a converter or Plain Envoy tells of its telecontrol link beside the points. */
export const stationTold = [
  { name: 'connected', label: 'The link is open, and the other end answers' },
  { name: 'cuts', label: 'How many times the link was cut' },
  { name: 'kept', label: 'How many events wait to be confirmed' },
  { name: 'thrown away', label: 'How many events were thrown away unsent' },
  { name: 'clock age', label: 'How many seconds ago the clock was set' },
] as const;

/** What is told of a telecontrol link as a whole. */
export const stationState = definePlace({
  kind: 'stationState',
  label: 'What is told of a telecontrol link',
  schema: z.strictObject({ kind: z.literal('stationState'), state: z.enum(namesOf(stationTold)), pinned: Pinned }),
  partOf: null,
  messageOf: () => null,
  directionOf: () => 'sent',
  isTold: true,
  inMessage: (place) => place,
  words: ({ state }) => `${state} of the link`,
});
