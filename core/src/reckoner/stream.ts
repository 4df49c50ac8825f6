import * as z from 'zod';
import { readStream } from '../explain/index.js';
import { fromHex } from '../frame/index.js';
import { Explained } from './frame.js';
import { reckoner } from './reckoner.js';
import { good } from '../outcome/index.js';

const Stretch = z.object({ from: z.int(), to: z.int() });

export const stream = reckoner({
  name: 'stream',
  sentence: 'The whole frames in a recorded byte stream, found by checksum, answers tied to their requests; the rest is noise.',
  example: { hex: '00 15 04 00 0A 00 02 52 DD 15 04 04 CC CD 42 76 B0 6C', framing: 'rtu' },
  input: z.strictObject({ hex: z.string(), framing: z.literal('rtu').default('rtu') }),
  output: z.object({
    frames: z.array(
      z.object({ ...Stretch.shape, direction: z.enum(['request', 'response']), answers: z.int().nullable(), ...Explained.shape }),
    ),
    noise: z.array(Stretch),
  }),
  reckon({ hex }) {
    const bytes = fromHex(hex);
    return bytes.ok ? good(readStream(bytes.value)) : bytes;
  },
});
