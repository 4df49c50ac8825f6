import * as z from 'zod';
import { fromHex } from '../frame/index.js';
import { good } from '../outcome/index.js';
import '../re2/index.js';
import { Telegram } from '../telegram/index.js';
import { readTelegrams } from '../telegram-text/index.js';
import { reckoner } from './reckoner.js';
import { FoundField } from './telegram.js';

const Stretch = z.object({ from: z.int().describe('The first byte, from 0'), to: z.int().describe('The last byte') });

export const textStream = reckoner({
  name: 'text-stream',
  sentence: 'The telegrams in a recorded stream of text, and what belongs to none of them, with the reason.',
  example: {
    telegram: { end: ['0D'], fields: [{ name: 'weight', at: { from: 0, length: 5 }, kind: 'integer' }] },
    hex: '34 32 0D 20 20 31 38 34 0D 20 20',
  },
  input: z.strictObject({
    telegram: Telegram.meta({ lines: 4 }),
    hex: z.string().max(4_000_000),
    silences: z.array(z.int().min(0)).max(100_000).default([]).describe('Before which bytes, counted from 0, nothing came for a while'),
  }),
  output: z.object({
    telegrams: z.array(
      z.object({ ...Stretch.shape, ok: z.boolean(), fields: z.array(FoundField), problems: z.array(z.string()), sentence: z.string() }),
    ),
    rest: z.array(z.object({ ...Stretch.shape, why: z.string() })),
  }),
  reckon({ telegram, hex, silences }) {
    const bytes = fromHex(hex);
    if (!bytes.ok) return bytes;
    const parts = readTelegrams(telegram, bytes.value, silences);
    return good({
      telegrams: parts.flatMap((part) => (part.kind === 'telegram' ? [{ from: part.from, to: part.to, ...part.parsed }] : [])),
      rest: parts.flatMap((part) => (part.kind === 'rest' ? [{ from: part.from, to: part.to, why: part.why }] : [])),
    });
  },
});
