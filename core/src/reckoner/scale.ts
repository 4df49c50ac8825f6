import * as z from 'zod';
import { encoderScale, formulaOf, lineOf, type Scale, toUnits } from '../value/index.js';
import { reckoner } from './reckoner.js';
import { bad, good } from '../outcome/index.js';

const Range = z.tuple([z.number(), z.number()]);

export const scale = reckoner({
  name: 'scale',
  sentence: 'A raw value, or counts of an encoder, to units: value, factor, offset and the formula.',
  example: { raw: [0, 27_648], units: [0, 100], at: 13_824 },
  input: z.strictObject({
    raw: Range.refine(([low, high]) => low !== high, 'The raw range has no width.').optional(),
    units: Range.refine(([low, high]) => low !== high, 'The unit range has no width.').optional(),
    countsPerTurn: z.number().positive('An encoder gives at least one count a turn.').optional(),
    quadrature: z.boolean().optional().describe('Four edges are counted for each count'),
    unitsPerTurn: z
      .number()
      .refine((units) => units !== 0, 'Without units a turn every value would be 0.')
      .optional(),
    at: z.number('A number is expected.').describe('The raw value, or the counts, to turn into units'),
  }),
  output: z.object({ value: z.number(), factor: z.number(), offset: z.number(), formula: z.string() }),
  reckon({ raw, units, countsPerTurn, quadrature = false, unitsPerTurn, at }) {
    const turns = countsPerTurn !== undefined && unitsPerTurn !== undefined;
    if (turns === (raw !== undefined && units !== undefined)) {
      return bad('Give a raw range with its range of units, or counts a turn with units a turn.', turns ? 'countsPerTurn' : 'raw');
    }
    const chosen: Scale = turns ? encoderScale(countsPerTurn, unitsPerTurn, quadrature) : { raw: raw!, units: units! };
    const value = toUnits(at, chosen);
    return Number.isFinite(value)
      ? good({ value, ...lineOf(chosen), formula: formulaOf(chosen) })
      : bad('The value is past what a number can hold.', 'at');
  },
});
