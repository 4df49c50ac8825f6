import * as z from 'zod';
import { encode as encodeValue, Layout, Value } from '../value/index.js';
import { reckoner } from './reckoner.js';

export const encode = reckoner({
  name: 'encode',
  sentence: 'A value to the registers that hold it, with its type, byte order and scale.',
  example: { value: 61.5, type: 'float32', order: 'CDAB' },
  input: z.strictObject({ value: Value, ...Layout.shape }),
  output: z.object({ words: z.array(z.int()), exact: z.boolean(), note: z.string().optional() }),
  reckon: ({ value, ...layout }) => encodeValue(value, layout),
});
