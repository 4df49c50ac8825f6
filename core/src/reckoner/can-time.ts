import * as z from 'zod';
import { arbitrate, busTime, Identifier, IdentifierBits, identifierProblem, MOST_BYTES } from '../can/index.js';
import { bad, good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

export const canTime = reckoner({
  name: 'can-time',
  sentence: 'How full a CAN bus is, and how long each frame can take at worst until it is through.',
  example: {
    bitrate: 250_000,
    frames: [
      { id: 'Position', identifierBits: 29 as const, identifier: '0x18FF1003', bytes: 8, periodMs: 100 },
      { id: 'Speed', identifierBits: 29 as const, identifier: '0x18FF2003', bytes: 4, periodMs: 50 },
    ],
  },
  input: z.strictObject({
    bitrate: z.number().min(1000, 'At least 1000 bit/s.').max(1_000_000, 'At most 1 Mbit/s.').describe('bit/s'),
    frames: z
      .array(
        z.strictObject({
          id: z.string().min(1, 'A name is needed.').max(80),
          identifierBits: IdentifierBits,
          identifier: Identifier,
          bytes: z.int('A whole number.').min(0).max(MOST_BYTES, `At most ${MOST_BYTES} bytes.`),
          periodMs: z.number().min(0.1, 'At least 0.1 ms.').max(3_600_000),
          jitterMs: z.number().min(0).max(3_600_000).optional().describe('How much later than its period it may be wanted'),
        }),
      )
      .min(1, 'At least one frame.')
      .max(500, 'At most 500 frames.'),
  }),
  output: z.object({
    load: z.number().describe('Share of its time, with as many stuffed bits as there can be; 1 is full'),
    frames: z.array(
      z.object({
        id: z.string(),
        bits: z.int().describe('Without stuffed bits, with the space after it'),
        worstBits: z.int(),
        worstMs: z.number(),
        worstResponseMs: z.number().nullable().describe('None: it grows without end'),
      }),
    ),
  }),
  reckon({ bitrate, frames }) {
    for (const [index, frame] of frames.entries()) {
      const wrong = identifierProblem(frame);
      if (wrong) return bad(wrong, 'frames', index, 'identifier');
      const twin = frames.slice(0, index).find((other) => arbitrate(other, frame) === 0);
      if (twin) return bad(`${twin.id} and ${frame.id} have the same identifier, which only one may send.`, 'frames', index, 'identifier');
    }
    return good(busTime(bitrate, frames));
  },
});
