import * as z from 'zod';
import { Encoding, ValueType } from '../types/index.js';
import { ByteOrder } from './order.js';
import { Scale } from './scale.js';

/** How a value lies in its registers: everything that `decode` and `encode` must know besides the words. */
export const Layout = z.strictObject({
  type: ValueType,
  order: ByteOrder.optional(),
  scale: Scale.optional(),
  encoding: Encoding.optional().describe('Text only; default ascii'),
  length: z.number().int().min(1).max(125).optional().describe('Registers, for text and bits only'),
});
export type Layout = z.infer<typeof Layout>;
