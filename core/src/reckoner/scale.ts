import { z } from 'zod';
import { bad, encoderScale, formulaOf, good, lineOf, type Scale, toUnits } from '../value/index.js';
import { reckoner } from './reckoner.js';

const Range = z.tuple([z.number(), z.number()]);
const At = z.number('A number is expected.').describe('The raw value, or the counts, to turn into units');

const byRange = z.strictObject({
  raw: Range.refine(([low, high]) => low !== high, 'The raw range has no width.'),
  units: Range.refine(([low, high]) => low !== high, 'The unit range has no width.'),
  at: At,
});
const byTurns = z.strictObject({
  countsPerTurn: z.number().positive('An encoder gives at least one count a turn.'),
  quadrature: z.boolean().optional().describe('Four edges are counted for each count'),
  unitsPerTurn: z.number().refine((units) => units !== 0, 'Without units a turn every value would be 0.'),
  at: At,
});

export const scale = reckoner({
  name: 'scale',
  sentence: 'A raw value, or counts of an encoder, to units: value, factor, offset and the formula.',
  example: { raw: [0, 27_648], units: [0, 100], at: 13_824 },
  input: z.union([byRange, byTurns]),
  output: z.object({ value: z.number(), factor: z.number(), offset: z.number(), formula: z.string() }),
  reckon(input) {
    const chosen: Scale =
      'raw' in input
        ? { raw: input.raw, units: input.units }
        : encoderScale(input.countsPerTurn, input.unitsPerTurn, input.quadrature ?? false);
    const value = toUnits(input.at, chosen);
    return Number.isFinite(value)
      ? good({ value, ...lineOf(chosen), formula: formulaOf(chosen) })
      : bad('The value is past what a number can hold.', 'at');
  },
});
