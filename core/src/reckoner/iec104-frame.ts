import * as z from 'zod';
import { fromHex } from '../frame/index.js';
import { explainFrame104 } from '../iec104/index.js';
import { bad, good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

export const iec104Frame = reckoner({
  name: 'iec104-frame',
  sentence: 'What a frame of IEC 60870-5-104 says, octet by octet, and what is wrong with it.',
  example: { hex: '68 0E 02 00 00 00 03 01 03 00 0C 00 65 00 00 02' },
  input: z.strictObject({ hex: z.string().max(2000).meta({ lines: 2, description: 'A whole frame, from 68 on' }) }),
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
    if (!bytes.ok) return bad(bytes.problem.message, 'hex');
    const { ok, sentence, problems, fields } = explainFrame104(bytes.value);
    return good({ ok, sentence, problems, fields });
  },
});
