import * as z from 'zod';

/** What one register holds, as a calculation takes it. */
export const Word = z
  .int('A register holds a whole number.')
  .min(0, 'A register holds 0 to 65535.')
  .max(65_535, 'A register holds 0 to 65535.');
