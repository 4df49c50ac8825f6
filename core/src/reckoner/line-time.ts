import * as z from 'zod';
import { framingOf, functionOf, functions, MAX_EXCHANGED, modbusFramings } from '../frame/index.js';
import { lineTime as timesOf, SerialSettings } from '../line/index.js';
import { reckoner } from './reckoner.js';
import { bad, good } from '../outcome/index.js';

const Ms = z.number().min(0, 'A time is not negative.').max(60_000, 'At most 60 000 ms.');
const codes = functions.map(({ code }) => code);

export const lineTime = reckoner({
  name: 'line-time',
  sentence: 'How long one request and its answer hold a serial line, and how many fit in a second.',
  example: { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1, framing: 'rtu', functionCode: 3, count: 10, responseDelayMs: 5 },
  input: z.strictObject({
    ...SerialSettings.shape,
    framing: z.enum(modbusFramings),
    functionCode: z.int().refine((code) => codes.includes(code), `The functions known here are ${codes.join(', ')}.`),
    count: z.int('A whole number.').min(1, 'At least one register or bit.').describe('Registers or bits'),
    alsoCount: z
      .int('A whole number.')
      .min(1, 'At least one register.')
      .max(125, 'At most 125 registers.')
      .optional()
      .describe('Registers that function 23 reads'),
    responseDelayMs: Ms.optional().describe('How long the device takes before it answers, in ms'),
    turnaroundMs: Ms.optional().describe('A pause before the next request, in ms'),
  }),
  output: z.object({
    characterBits: z.int(),
    characterMs: z.number(),
    t15Ms: z.number(),
    t35Ms: z.number(),
    requestBytes: z.int(),
    responseBytes: z.int(),
    requestMs: z.number(),
    responseMs: z.number(),
    totalMs: z.number(),
    perSecond: z.number(),
  }),
  reckon({ baud, dataBits, parity, stopBits, framing, functionCode, count, alsoCount, responseDelayMs = 0, turnaroundMs = 0 }) {
    const known = functionOf(functionCode)!;
    const most = known.kind === 'exchange' ? MAX_EXCHANGED : known.most;
    if (count > most) return bad(`Function ${functionCode}, ${known.name}, carries at most ${most}.`, 'count');
    if (dataBits < framingOf(framing).minDataBits)
      return bad('RTU needs 8 data bits; with 7 half of every byte’s values are lost.', 'dataBits');
    const settings = { baud, dataBits, parity, stopBits };
    return good(timesOf({ settings, framing, functionCode, count, alsoCount, responseDelayMs, turnaroundMs }));
  },
});
