import * as z from 'zod';
import { Id, Name, Note } from '../common/index.js';
import { Transform, pointsOfSteps } from '../steps/index.js';

/** How a value crosses: its registers as they are, or decoded at the source and encoded as the destination wants it. */
export const Carry = z.enum(['registers', 'value']);
export type Carry = z.infer<typeof Carry>;

/** What makes a route go out, each time its round comes. */
export const Trigger = z.discriminatedUnion('on', [
  z.strictObject({ on: z.literal('round') }),
  z.strictObject({
    on: z.literal('change'),
    deadband: z
      .number('A number.')
      .min(0, 'Not below 0.')
      .describe('Carried when it has moved by more than this, in units of the destination'),
  }),
  z.strictObject({ on: z.literal('edge'), pointId: Id.describe('The bit that goes from off to on') }),
  z.strictObject({ on: z.literal('start') }),
]);
export type Trigger = z.infer<typeof Trigger>;

/** A register that has to be set before or after the value, so that the device takes it. */
export const Release = z.strictObject({
  pointId: Id,
  value: z.number('A number.'),
  when: z.enum(['before', 'after']),
});
export type Release = z.infer<typeof Release>;

/**
 * What the destination gets when the source has been lost for `afterMs`, or has stood still for `stillMs`. `validId` is a bit or
 * word that is 1 while the value is good.
 */
export const Loss = z
  .strictObject({
    rule: z.enum(['hold', 'value', 'invalid']),
    value: z.number('A number.').nullable(),
    validId: Id.nullable(),
    afterMs: z.int('A whole number of milliseconds.').min(100, 'At least 100 ms.').max(3_600_000, 'At most an hour.'),
    stillMs: z
      .int('A whole number of milliseconds.')
      .min(100, 'At least 100 ms.')
      .max(3_600_000, 'At most an hour.')
      .nullable()
      .default(null)
      .describe('A value that has not changed for so long counts as lost, as a heartbeat that stands still; none: it may stay as it is'),
  })
  .superRefine(({ rule, value, validId }, context) => {
    if (rule === 'value' && value === null) context.addIssue({ code: 'custom', path: ['value'], message: 'Say which value.' });
    if (rule === 'invalid' && validId === null)
      context.addIssue({ code: 'custom', path: ['validId'], message: 'Say which bit or word tells that it is valid.' });
  });
export type Loss = z.infer<typeof Loss>;

/** One value carried from a source point to a destination point. */
export const Route = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  note: Note,
  sourceId: Id,
  destinationId: Id,
  roundId: Id,
  carry: Carry,
  transforms: z.array(Transform).max(16, 'At most 16 steps.').default([]),
  carrierId: Id.nullable().default(null).describe('The device that makes the exchange; none: Plain Envoy'),
  trigger: Trigger.default({ on: 'round' }),
  whileId: Id.nullable().default(null).describe('Carried only while this bit is on'),
  onlyDifferent: z.boolean().default(false).describe('Written only when it differs from what was written last'),
  release: Release.nullable().default(null),
  broadcast: z
    .boolean()
    .default(false)
    .describe('Written to every unit of the destination’s serial line at once, as unit 0; nobody confirms it'),
  maxAgeMs: z
    .int('A whole number of milliseconds.')
    .min(10, 'At least 10 ms.')
    .max(86_400_000, 'At most a day.')
    .nullable()
    .default(null)
    .describe('How old the value may be at the destination; none: no matter'),
  loss: Loss.default({ rule: 'hold', value: null, validId: null, afterMs: 5000, stillMs: null }),
});
export type Route = z.infer<typeof Route>;

/** What a route has that says nothing of its own: each value of its round, as it is, held when the source is lost. */
export const plainRoute: Pick<
  Route,
  'transforms' | 'carrierId' | 'trigger' | 'whileId' | 'onlyDifferent' | 'release' | 'broadcast' | 'maxAgeMs' | 'loss'
> = {
  transforms: [],
  carrierId: null,
  trigger: { on: 'round' },
  whileId: null,
  onlyDifferent: false,
  release: null,
  broadcast: false,
  maxAgeMs: null,
  loss: { rule: 'hold', value: null, validId: null, afterMs: 5000, stillMs: null },
};

/** The other points that a route needs read: bits that trigger it, allow it, or choose between two values, and values that join it. */
export function alsoReadBy({ trigger, whileId, transforms }: Pick<Route, 'trigger' | 'whileId' | 'transforms'>): string[] {
  const ids: string[] = [];
  if (trigger.on === 'edge') ids.push(trigger.pointId);
  if (whileId) ids.push(whileId);
  ids.push(...pointsOfSteps(transforms).map(({ pointId }) => pointId));
  return ids.length > 1 ? [...new Set(ids)] : ids;
}

/** Whether a step of any route is a formula, which a large package understands. */
export function hasFormulas({ routes }: { routes: readonly Route[] }): boolean {
  return routes.some(({ transforms }) => transforms.some(({ kind }) => kind === 'arithmetic'));
}
