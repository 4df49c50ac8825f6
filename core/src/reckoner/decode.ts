import * as z from 'zod';
import { decode as decodeWords, Layout, Value } from '../value/index.js';
import { reckoner } from './reckoner.js';
import { Word } from './word.js';

export const decode = reckoner({
  name: 'decode',
  sentence: 'Registers to a value, with its type, byte order and scale.',
  example: { words: [17_260, 8192], type: 'float32', order: 'ABCD' },
  input: z.strictObject({ words: z.array(Word).min(1, 'At least one register is needed.').max(125), ...Layout.shape }),
  output: z.object({ raw: Value, value: Value }),
  reckon: ({ words, ...layout }) => decodeWords(words, layout),
});
