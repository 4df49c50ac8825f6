import * as z from 'zod';
import { groundLoops } from '../line/index.js';
import { reckoner } from './reckoner.js';
import { good } from '../outcome/index.js';

const Ohm = z.number().min(0, 'A resistance is not negative.').max(1e6);

export const groundLoop = reckoner({
  name: 'ground-loop',
  sentence:
    'Loops through shields, reference conductors and earths, the current that differing earths drive through them, and the receivers’ range.',
  example: {
    shieldOhmPerKm: 12,
    devices: [
      { name: 'Gateway', atM: 0, shieldGrounded: true },
      { name: 'Far device', atM: 800, earthV: 6, shieldGrounded: true },
    ],
  },
  input: z.strictObject({
    shieldOhmPerKm: Ohm.nullable().default(12).describe('Ω per km; null for no shield'),
    referenceOhmPerKm: Ohm.nullable().default(null).describe('Ω per km; null for no reference conductor'),
    devices: z
      .array(
        z.strictObject({
          name: z.string().min(1, 'A name is needed.').max(80),
          atM: z.number().min(0).max(20_000).describe('Metres along the cable'),
          earthV: z.number().min(-1000).max(1000).default(0).describe('Local earth against the main earth, in V'),
          earthOhm: Ohm.default(0).describe('Ω between local and main earth'),
          shieldGrounded: z.boolean().default(false),
          reference: z.enum(['none', 'direct', 'resistance']).default('none'),
          isolated: z.boolean().default(false),
        }),
      )
      .min(2, 'A loop needs at least two devices.')
      .max(250),
  }),
  output: z.object({
    loops: z.array(
      z.object({
        conductor: z.enum(['shield', 'reference conductor']),
        between: z.tuple([z.string(), z.string()]),
        volts: z.number(),
        ohm: z.number(),
        currentA: z.number().nullable(),
      }),
    ),
    commonMode: z.object({ between: z.tuple([z.string(), z.string()]), volts: z.number() }).nullable(),
    withinRange: z.boolean(),
  }),
  reckon: (cable) => good(groundLoops(cable)),
});
