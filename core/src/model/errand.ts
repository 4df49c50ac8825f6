import * as z from 'zod';
import { Id, Name, Note } from '../common/index.js';

const Ms = z.int('A whole number of milliseconds.').min(0, 'Not below 0.').max(3_600_000, 'At most an hour.');

/** How a point's value is compared with what is stated. `has`: all of these bits are on; `lacks`: none of them is. */
export const Comparison = z.enum(['equals', 'differs', 'above', 'below', 'has', 'lacks']);
export type Comparison = z.infer<typeof Comparison>;

const Typed = z
  .string()
  .max(250, 'At most 250 characters.')
  .describe('As it is typed: a number in units, a name of a code, a text, or bits by number or name');
const Is = z.strictObject({ pointId: Id, is: Comparison, value: Typed });

/** One step of an errand. Steps are counted from 1; `else` and `from` name a step. */
export const ErrandStep = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('write'),
    pointId: Id,
    value: Typed,
    broadcast: z.boolean().default(false).describe('To every unit of its serial line, as unit 0; nobody confirms it'),
  }),
  z.strictObject({ kind: z.literal('wait').describe('Until it is so'), ...Is.shape, withinMs: Ms }),
  z.strictObject({
    kind: z.literal('compare').describe('Now'),
    ...Is.shape,
    sameAsId: Id.nullable().describe('A point whose value it is compared with, in place of the stated one'),
    else: z
      .int('A step by its number.')
      .min(1, 'Steps begin at 1.')
      .nullable()
      .describe('Where it goes on if it is not so; none: the errand fails'),
  }),
  z.strictObject({ kind: z.literal('read').describe('And keep what was read with the run'), pointId: Id }),
  z.strictObject({ kind: z.literal('pause'), ms: Ms }),
  z.strictObject({
    kind: z.literal('repeat').describe('Go back, so many times'),
    from: z.int('A step by its number.').min(1, 'Steps begin at 1.'),
    times: z.int('A whole number.').min(1, 'At least once.').max(1000, 'At most 1000 times.'),
  }),
  z.strictObject({ kind: z.literal('end').describe('It is done') }),
]);
export type ErrandStep = z.infer<typeof ErrandStep>;
export type ErrandStepKind = ErrandStep['kind'];

/** What sets an errand off beside a person. */
export const ErrandTrigger = z.discriminatedUnion('on', [
  z.strictObject({ on: z.literal('hand') }),
  z.strictObject({ on: z.literal('edge'), pointId: Id.describe('The bit that goes from off to on') }),
  z.strictObject({ on: z.literal('change'), pointId: Id }),
]);
export type ErrandTrigger = z.infer<typeof ErrandTrigger>;

/** An ordered exchange with a check: run to its end once each time it is set off. */
export const Errand = z
  .strictObject({
    id: Id,
    projectId: Id,
    name: Name,
    note: Note,
    trigger: ErrandTrigger,
    overlaps: z.boolean().describe('It may run while another errand works on one of its devices'),
    steps: z.array(ErrandStep).min(1, 'An errand has at least one step.').max(100, 'At most 100 steps.'),
  })
  .superRefine(({ steps }, context) => {
    for (const [index, step] of steps.entries()) {
      const problem = (field: string, message: string) => context.addIssue({ code: 'custom', path: ['steps', index, field], message });
      if (step.kind === 'compare' && step.else !== null && step.else > steps.length)
        problem('else', `There are only ${steps.length} steps.`);
      if (step.kind === 'repeat' && step.from > index) problem('from', `It goes back, to a step before ${index + 1}.`);
    }
  });
export type Errand = z.infer<typeof Errand>;

/** The points that an errand works with, its trigger among them. */
export function pointsOfErrand({ trigger, steps }: Pick<Errand, 'trigger' | 'steps'>): string[] {
  const ids = trigger.on === 'hand' ? [] : [trigger.pointId];
  for (const step of steps) {
    if ('pointId' in step) ids.push(step.pointId);
    if (step.kind === 'compare' && step.sameAsId) ids.push(step.sameAsId);
  }
  return [...new Set(ids)];
}
