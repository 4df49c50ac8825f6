import * as z from 'zod';

const number = z.number('A number.');
const Ms = z.int('A whole number of milliseconds.').max(3_600_000, 'At most an hour.');

/** A value that moves by itself, as it is written to a point for a while; `low` and `high` are in units of the point. */
export const Pattern = z
  .strictObject({
    kind: z.enum(['toggle', 'step', 'ramp', 'sine', 'count']),
    low: number,
    high: number,
    periodMs: Ms.min(100, 'At least 100 ms.').describe(
      'From one beginning to the next, ms; a count goes on by one each time it is written',
    ),
    everyMs: Ms.min(50, 'At least 50 ms.').describe('How often it is written, ms'),
    forMs: Ms.min(100, 'At least 100 ms.').describe('How long it goes on, ms'),
  })
  .refine(({ low, high }) => low <= high, { message: 'The highest is below the lowest.', path: ['high'] });
export type Pattern = z.infer<typeof Pattern>;

export const patternNames: Readonly<Record<Pattern['kind'], string>> = {
  toggle: 'off and on',
  step: 'low and high in turn',
  ramp: 'rising, and again from the lowest',
  sine: 'up and down, as a wave',
  count: 'counting up',
};

/** The value so long after the pattern began, in units. */
export function valueAt({ kind, low, high, periodMs, everyMs }: Pattern, elapsedMs: number): number {
  const part = (elapsedMs % periodMs) / periodMs;
  switch (kind) {
    case 'toggle':
      return part < 0.5 ? 0 : 1;
    case 'step':
      return part < 0.5 ? low : high;
    case 'ramp':
      return low + (high - low) * part;
    case 'sine':
      return (low + high) / 2 + ((high - low) / 2) * Math.sin(2 * Math.PI * part);
    case 'count':
      return low + (Math.floor(elapsedMs / everyMs) % (Math.floor(high - low) + 1));
  }
}
