import * as z from 'zod';
import { Offset, Table } from '../address/index.js';

/** The largest image of a converter, in bytes. */
export const MAX_IMAGE = 65_536;

/** How two bytes of the image are a register: the high byte at the lower place, or the low one. */
export const WordOrder = z.enum(['high-first', 'low-first']);
export type WordOrder = z.infer<typeof WordOrder>;

/** A stretch of an image: where it begins, how long it is, and what of a side it is, where that counts registers. */
export const stretchFields = {
  table: Table.optional(),
  offset: Offset.optional().describe('Of its first register or bit, or of its first byte where it has no table; 0 where it is left out'),
  byte: z
    .int('A whole number.')
    .min(0, 'From 0.')
    .max(MAX_IMAGE - 1)
    .describe('Where in the image it begins'),
  bytes: z.int('A whole number.').min(1, 'At least one byte.').max(MAX_IMAGE),
  order: WordOrder,
};
