import * as z from 'zod';
import { explainFrame } from '../explain/index.js';
import { detectFramings, sureness } from '../codec/index.js';
import { Framing, framingOf, fromHex } from '../frame/index.js';
import { reckoner } from './reckoner.js';
import { good } from '../outcome/index.js';

const Field = z.object({ name: z.string(), from: z.int(), to: z.int(), hex: z.string(), meaning: z.string() });
export const Explained = z.object({
  framing: Framing,
  ok: z.boolean(),
  fields: z.array(Field),
  problems: z.array(z.string()),
  sentence: z.string(),
});

export const frame = reckoner({
  name: 'frame',
  sentence: 'What each byte of a Modbus frame means, whether it is sound, and the whole in one sentence.',
  example: { hex: '0B 03 00 00 00 02 C4 A1', framing: 'auto' },
  input: z.strictObject({
    hex: z.string(),
    framing: z.enum([...Framing.options, 'auto']).default('auto'),
    direction: z.enum(['request', 'response']).optional(),
  }),
  output: z.object({
    ...Explained.shape,
    readings: z
      .array(z.object({ framing: Framing, how: z.enum(sureness), sentence: z.string() }))
      .describe('What the bytes could be where the framing was not given, the likeliest first'),
  }),
  reckon({ hex, framing, direction }) {
    const bytes = fromHex(hex);
    if (!bytes.ok) return bytes;
    const readings = framing === 'auto' ? detectFramings(bytes.value).map(asReading) : [];
    return good({ ...explainFrame(bytes.value, framing, direction), readings });
  },
});

function asReading({ framing, how, why }: ReturnType<typeof detectFramings>[number]) {
  return { framing, how, sentence: `These bytes ${words[how]} ${framingOf(framing).label}: ${why}.` };
}

const words = { sure: 'are', likely: 'are probably', possible: 'could be' } as const;
