import * as z from 'zod';
import { MOST_BYTES } from '../can-id/index.js';
import { Id, namesOf } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** The most frames that a converter keeps whole at a time. */
export const MOST_RECORDS = 32;

/** What a frame is in the image of a converter that passes it whole. */
export const recordParts = [
  { name: 'count', label: 'Its count, another with each frame; 0 where none came yet' },
  { name: 'identifier', label: 'Its identifier' },
  { name: 'length', label: 'How many bytes of data it has' },
  { name: 'data', label: 'Bytes of its data' },
] as const;

/** A part of a frame on CAN that a converter passes whole, for the controller to read or to make. */
export const record = definePlace({
  kind: 'record',
  label: 'A part of a frame that passes whole',
  schema: z.strictObject({
    kind: z.literal('record'),
    frameId: Id,
    record: z
      .int('A whole number.')
      .min(0, 'Records count from 0.')
      .max(MOST_RECORDS - 1, `There are at most ${MOST_RECORDS} records.`),
    part: z.enum(namesOf(recordParts)),
    byte: z
      .int('A whole number.')
      .min(0, 'Bytes count from 0.')
      .max(MOST_BYTES - 1, 'A frame has bytes 0 to 7.')
      .default(0)
      .describe('From which byte of the data on, where it is data'),
    pinned: Pinned,
  }),
  partOf: 'frame',
  messageOf: ({ frameId }) => frameId,
  directionOf: () => null,
  isTold: true,
  inMessage: (place, frameId) => ({ ...place, frameId }),
  words: ({ record, part, byte }, message) =>
    `${part === 'data' ? `data from byte ${byte} on` : part} of record ${record + 1} of ${message}`,
});
