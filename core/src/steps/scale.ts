import * as z from 'zod';
import { defineStep } from './definition.js';
import { number } from './fields.js';
import { onNumber, pass, tidy } from './values.js';

export const scale = defineStep({
  schema: z.strictObject({
    kind: z.literal('scale'),
    factor: number.refine((factor) => factor !== 0, 'A factor of 0 would make every value 0.'),
    offset: number,
  }),
  blank: { kind: 'scale', factor: 1, offset: 0 },
  label: 'scale and offset',
  describe: ({ factor, offset }) => {
    const times = factor === 1 ? '' : `× ${factor}`;
    const plus = offset === 0 ? '' : offset < 0 ? `− ${-offset}` : `+ ${offset}`;
    return [times, plus].filter(Boolean).join(' ') || '× 1';
  },
  run: ({ factor, offset }, value) => onNumber(value, (raw) => pass(tidy(raw * factor + offset))),
  multiplies: ({ factor, offset }) => factor !== 1 && offset === 0,
  inverse: ({ factor, offset }) => ({ kind: 'scale', factor: short(1 / factor), offset: short(-offset / factor) }),
  bounds: ({ factor, offset }, { low, high, known }) => {
    const ends = [low * factor + offset, high * factor + offset];
    return { low: Math.min(...ends), high: Math.max(...ends), known };
  },
  back: ({ factor, offset }, value) => (value - offset) / factor,
});

function short(value: number): number {
  return Number(value.toPrecision(12));
}
