import * as z from 'zod';
import { Id } from '../common/index.js';
import { defineStep } from './definition.js';
import { Bit, BitCount, pastTheEnd, spanText, staysInside } from './fields.js';
import { maskOf, onWhole, pass, wholeFrom } from './values.js';

export const join = defineStep({
  schema: z
    .strictObject({
      kind: z.literal('join').describe('Another point’s value put into some of its bits'),
      pointId: Id,
      at: Bit,
      count: BitCount,
    })
    .refine(staysInside, pastTheEnd),
  blank: { kind: 'join', pointId: '', at: 16, count: 16 },
  label: 'join with another point',
  describe: (step) => `another point in ${spanText(step)}`,
  run: ({ pointId, at, count }, value, around) =>
    onWhole(value, (whole) => {
      const other = around.valueOf(pointId);
      const joining = other.ok ? wholeFrom(other.value) : other;
      if (!joining.ok) return joining;
      const [low, part] = [BigInt(at), maskOf(count)];
      return pass(Number((BigInt.asUintN(32, whole) & ~(part << low)) | ((joining.value & part) << low)));
    }),
  bounds: ({ at, count }, { low, high }) => ({ low: 0, high: Math.max(2 ** (at + count) - 1, low < 0 ? 2 ** 32 - 1 : high), known: true }),
  points: [{ field: 'pointId', label: 'The other point', none: 'none', isBit: false, whileProved: 0 }],
});
