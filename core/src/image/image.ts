import * as z from 'zod';
import { Id } from '../common/index.js';
import type { ByteOrder } from '../value/index.js';
import { MAX_IMAGE, stretchFields, type WordOrder } from './stretch.js';
import type { Window } from './windows.js';

/** What one side of a converter sees of its image, and whether that side writes it or reads it. The side is the line that it is on. */
export const SideWindow = z.strictObject({
  lineId: Id.describe('The line on which this side is'),
  use: z.enum(['writes', 'reads']).describe('What the side does with these bytes of the image'),
  ...stretchFields,
});
export type SideWindow = z.infer<typeof SideWindow>;

/** The memory of a converter, laid out in bytes, and the windows through which each of its sides sees a part of it. */
export const Image = z
  .strictObject({
    bytes: z.int('A whole number.').min(2, 'At least two bytes.').max(MAX_IMAGE, `At most ${MAX_IMAGE} bytes.`),
    refreshMs: z
      .int('A whole number of milliseconds.')
      .min(0, 'Not below 0 ms.')
      .max(60_000, 'At most 60 000 ms.')
      .default(10)
      .describe('How often it carries from one side to the other'),
    evenWide: z.boolean().default(false).describe('Values of two registers and more begin at a byte that four divides'),
    windows: z.array(SideWindow).max(64, 'At most 64 windows.'),
  })
  .superRefine(({ bytes, windows }, context) => {
    windows.forEach((window, index) => {
      if (window.byte + window.bytes > bytes)
        context.addIssue({
          code: 'custom',
          path: ['windows', index, 'bytes'],
          message: `It would end at byte ${window.byte + window.bytes - 1}; the image ends at ${bytes - 1}.`,
        });
    });
  });
export type Image = z.infer<typeof Image>;

/** A window as the calculation with sides takes it. */
export function asWindow({ lineId, use: _, ...stretch }: SideWindow): Window {
  return { side: lineId, ...stretch };
}

/**
 * The order in which registers of a window hold a value that another side has laid into the image: `laid` is high-first where that side
 * puts the highest byte first. A text runs from byte to byte, whatever side lays it. Example: laid low-first, seen through a high-first
 * window, four bytes are DCBA.
 */
export function orderThrough(laid: WordOrder, seen: WordOrder, isText: boolean): ByteOrder {
  if (isText || laid === 'high-first') return seen === 'high-first' ? 'ABCD' : 'BADC';
  return seen === 'high-first' ? 'DCBA' : 'CDAB';
}
