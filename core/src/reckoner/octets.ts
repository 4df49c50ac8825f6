import * as z from 'zod';
import { type FrameField, fromHex } from '../frame/index.js';
import { bad, good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

/** What a frame of a protocol says, octet by octet. */
interface Octets {
  name: string;
  sentence: string;
  example: string;
  explain(bytes: Uint8Array): { ok: boolean; sentence: string; problems: string[]; fields: FrameField[] };
}

/** A reckoner that explains a whole frame which is given in hex. */
export function octetsReckoner({ name, sentence, example, explain }: Octets) {
  return reckoner({
    ...{ name, sentence, example: { hex: example } },
    input: z.strictObject({ hex: z.string().max(2000).meta({ lines: 2, description: 'A whole frame, from its first octet on' }) }),
    output: z.object({
      ok: z.boolean(),
      sentence: z.string(),
      problems: z.array(z.string()),
      fields: z.array(
        z.object({
          ...{ name: z.string(), hex: z.string(), meaning: z.string() },
          from: z.int().describe('Position of the first octet, from 0'),
          to: z.int().describe('Position of the last'),
        }),
      ),
    }),
    reckon({ hex }) {
      const bytes = fromHex(hex);
      return bytes.ok ? good(explain(bytes.value)) : bad(bytes.problem.message, 'hex');
    },
  });
}
