import * as z from 'zod';
import { imageOf } from '../modules/index.js';
import { good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

const Count = z.int('A whole number.').min(0, 'Not less than none.').max(1024, 'At most 1024.').default(0);
const Channels = z.strictObject({ bits: Count, words: Count }).prefault({});
const Size = z.object({ words: z.int(), bits: z.int(), bytes: z.int() });

export const modules = reckoner({
  name: 'modules',
  sentence: 'The process image of a coupler from its modules: where each channel lies, and how large both directions are.',
  example: {
    modules: [
      { name: 'Analog in', in: { words: 2 } },
      { name: 'Digital in', in: { bits: 8 } },
      { name: 'Digital out', out: { bits: 4 } },
    ],
    rule: 'words-first',
  },
  input: z.strictObject({
    modules: z
      .array(z.strictObject({ name: z.string().max(80), in: Channels, out: Channels }))
      .min(1, 'A coupler has at least one module.')
      .max(256, 'At most 256 modules.')
      .describe('In slot order'),
    rule: z.enum(['words-first', 'in-order']).describe('All words and then all bits, packed; or slot by slot'),
    align: z
      .enum(['bit', 'byte', 'word'])
      .default('byte')
      .describe('Slot by slot: where each module begins; a word always begins with a byte'),
  }),
  output: z.object({
    in: Size,
    out: Size,
    channels: z.array(
      z.object({
        module: z.string(),
        direction: z.enum(['in', 'out']),
        number: z.int().describe('Of the module, from 1, words and bits apart'),
        kind: z.enum(['bit', 'word']),
        byte: z.int().describe('Of the image of its direction, from 0'),
        bit: z.int().nullable().describe('Of the byte, from 0; null for a word'),
        word: z.int().describe('The register of the image, from 0'),
      }),
    ),
  }),
  reckon({ modules: all, rule, align }) {
    const [inward, outward] = (['in', 'out'] as const).map((direction) => imageOf(all, direction, { rule, align }));
    return good({ in: inward!.size, out: outward!.size, channels: [...inward!.channels, ...outward!.channels] });
  },
});
