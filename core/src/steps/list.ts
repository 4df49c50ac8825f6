import * as z from 'zod';
import { arithmetic } from './arithmetic.js';
import { beat } from './beat.js';
import { cast } from './cast.js';
import { clamp } from './clamp.js';
import { codes } from './codes.js';
import { constant } from './constant.js';
import { deadband } from './deadband.js';
import type { StepDefinition, StepSchema } from './definition.js';
import { extract } from './extract.js';
import { insert } from './insert.js';
import { invert } from './invert.js';
import { join } from './join.js';
import { rate } from './rate.js';
import { round } from './round.js';
import { scale } from './scale.js';
import { select } from './select.js';
import { swap } from './swap.js';
import { text } from './text.js';

/** The kinds of steps, in the order in which they are offered. A new one is a file of its own and its name here. */
const steps = [
  scale,
  round,
  clamp,
  arithmetic,
  codes,
  extract,
  insert,
  invert,
  cast,
  swap,
  deadband,
  rate,
  join,
  select,
  constant,
  beat,
  text,
] as const;

type Steps = typeof steps;

/** One pure step of a route's chain. It takes the value of the step before, in units of the source, and gives one to the next. */
export const Transform = z.discriminatedUnion('kind', schemasOf(steps));
export type Transform = z.infer<Steps[number]['schema']>;
export type TransformKind = Transform['kind'];

export const stepKinds: readonly TransformKind[] = steps.map(({ blank }) => blank.kind);

const byKind = new Map<string, StepDefinition>(steps.map((step) => [step.blank.kind, step as unknown as StepDefinition]));

/** All that is known of a kind of step; its functions take steps of that kind. */
export function stepOf(kind: TransformKind): StepDefinition<StepSchema, Transform> {
  return byKind.get(kind) as unknown as StepDefinition<StepSchema, Transform>;
}

function schemasOf<const List extends readonly { schema: StepSchema }[]>(
  list: List,
): { -readonly [Key in keyof List]: List[Key]['schema'] } {
  return list.map(({ schema }) => schema) as { -readonly [Key in keyof List]: List[Key]['schema'] };
}
