import * as z from 'zod';
import { CanSignal, hexIdentifier, learnSignals, readCanFrames, sniff } from '../can/index.js';
import { toHex } from '../frame/index.js';
import { bad, good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

/** So many lines that are none are told one by one. */
const MOST_PROBLEMS = 20;

const example = Array.from({ length: 10 }, (_, index) => {
  const position = 381 + 40 * index;
  const hex = [position & 0xff, position >> 8, 0, index].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return `(${(1_700_000_000 + index / 10).toFixed(6)}) can0 18FF1003#${hex.toUpperCase()}`;
}).join('\n');

export const canLog = reckoner({
  name: 'can-log',
  sentence: 'What is in a log of CAN frames: of each identifier how often it comes and what moves, and the signals that it likely has.',
  example: { text: example },
  input: z.strictObject({
    text: z
      .string()
      .max(1_000_000, 'At most a million characters at a time.')
      .meta({ lines: 6, description: 'Lines such as (1700000000.123456) can0 18FF1003#7D0180, or CSV with a head' }),
  }),
  output: z.object({
    frames: z.int(),
    identifiers: z.array(
      z.object({
        identifier: z.string().describe('In hex; three figures are 11 bits, eight are 29'),
        count: z.int(),
        periodMs: z.number().nullable(),
        jitterMs: z.number().nullable().describe('How far from the period at most'),
        data: z.string().describe('The last that was seen'),
        bytes: z.string().describe('Of the shortest and of the longest'),
        movedBits: z.array(z.int()).describe('Bit n is bit n mod 8 of byte n div 8'),
        remote: z.int(),
        on: z.string(),
      }),
    ),
    signals: z.array(
      z.object({
        identifier: z.string(),
        kind: z.enum(['counter', 'check', 'number', 'flag']),
        ...{ firstBit: CanSignal.shape.firstBit, bits: CanSignal.shape.bits, order: CanSignal.shape.order, signed: z.boolean() },
        why: z.string(),
        on: z.string(),
      }),
    ),
    problems: z.array(z.object({ line: z.int(), message: z.string() })),
  }),
  reckon({ text }) {
    const { frames, problems } = readCanFrames(text);
    if (frames.length === 0)
      return bad(problems[0] ? `Line ${problems[0].line}: ${problems[0].message}` : 'There is no frame in it.', 'text');
    const seen = sniff(frames);
    return good({
      frames: frames.length,
      identifiers: seen.map(({ count, periodMs, jitterMs, data, bytes: [least, most], movedBits, remote, on, ...name }) => ({
        ...{ identifier: hexIdentifier(name), count, periodMs, jitterMs, data: toHex(data) },
        ...{ bytes: least === most ? String(least) : `${least} to ${most}`, movedBits, remote, on },
      })),
      signals: seen.flatMap(({ frames: own, on, ...name }) =>
        learnSignals(own.flatMap((frame) => (frame.isRemote ? [] : [frame.data]))).map(({ kind, signal, why }) => {
          const { firstBit, bits, order, signed } = signal;
          return { identifier: hexIdentifier(name), kind, firstBit, bits, order, signed, why, on };
        }),
      ),
      problems: problems.slice(0, MOST_PROBLEMS),
    });
  },
});
