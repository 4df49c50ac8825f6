import * as z from 'zod';
import { definePlace } from './definition.js';

/** A register, or a bit of one, of the device itself. */
export const register = definePlace({
  kind: 'register',
  label: 'A register',
  schema: z.strictObject({ kind: z.literal('register') }),
  partOf: null,
  messageOf: () => null,
  directionOf: () => null,
  isTold: false,
  inMessage: (place) => place,
  words: () => 'register',
});
