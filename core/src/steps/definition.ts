import type * as z from 'zod';
import type { Outcome } from '../outcome/index.js';
import type { Value } from '../value/index.js';

/** What surrounds a chain of steps while it runs. */
export interface StepSurroundings {
  nowMs: number;
  /** What another point holds now, in its units; a problem while it is not known. */
  valueOf(pointId: string): Outcome<Value>;
  /** Whether another point is on; a problem while that is not known. */
  isOn(pointId: string): Outcome<boolean>;
}

/** What a step that looks back remembers of the last value that was carried. */
export interface StepMemory {
  value: number;
  atMs: number;
}

/** A step's value, or that there is nothing to carry just now. */
export type StepResult = { kind: 'value'; value: Value } | { kind: 'held' };

/** What a value can be somewhere in a chain. `known` is false where only its type limits it, as for floats and formulas. */
export interface Bounds {
  low: number;
  high: number;
  known: boolean;
}

/** Some bits of a word, from bit `at` (0 is the lowest). */
export interface BitSpan {
  at: number;
  count: number;
}

/** A point that a step names beside the route's own: the field that holds its id, and how a person is asked for it. */
export interface StepPoint<Field extends string = string> {
  field: Field;
  label: string;
  /** What stands for no point. */
  none: string;
  /** Only points of one bit. */
  isBit: boolean;
  /** What it holds while a proof sends values across; null: that does not matter. */
  whileProved: Value | null;
}

/** How a step and a proof go together: values are expected through it, past it, or not at all, for the reason given. */
export type InProof = 'counts' | 'passed' | { not: string };

/** The fields of a step as a schema, with its kind as a literal. */
export type StepSchema = z.ZodObject<{ kind: z.ZodLiteral<string> }>;

/**
 * Everything that is said about one kind of step. The value comes from the step before and goes to the next, in units of the
 * source; what cannot be carried is a problem that says why.
 */
export interface StepDefinition<Schema extends StepSchema = StepSchema, Step = z.infer<Schema>> {
  schema: Schema;
  /** As it starts: doing nothing yet, as far as there is such a thing. */
  blank: Step;
  /** What it is offered as. */
  label: string;
  /** In a few words, as it stands on a ribbon: `× 10`, `bit 3`. */
  describe(step: Step): string;
  run(step: Step, value: Value, around: StepSurroundings, before: StepMemory | undefined): Outcome<StepResult>;
  /** It has to remember what was carried last. */
  looksBack: boolean;
  /** It makes a value of its own, which moves while its source only has to come. */
  movesByItself: boolean;
  /** What undoes it, as a step; null where what it took away cannot be brought back. */
  inverse(step: Step): { kind: string } | null;
  /** It makes another number of each, always so many times as much: of one unit at both ends, a scale is then applied twice. */
  multiplies(step: Step): boolean;
  /** It cuts this value off, so that what comes out is not what it was. */
  cuts(step: Step, value: number): boolean;
  /** What comes out of it for what can go in. */
  bounds(step: Step, from: Bounds): Bounds;
  /** The value that goes in where this one comes out; null where it keeps no order and cannot be followed back. */
  back(step: Step, value: number): number | null;
  points: readonly StepPoint<keyof Step & string>[];
  inProof: InProof;
  /** What is wrong with it where it stands: `index` of `count` steps, from 0. */
  check(step: Step, index: number, count: number): { message: string; mend: string } | null;
  /** The registers of the source as it leaves them, before the value is read. */
  ofSource(step: Step, words: readonly number[]): readonly number[];
  /** The bits of the destination that it puts the value into; null: the value fills the destination. */
  intoBits(step: Step): BitSpan | null;
}

const common = {
  looksBack: false,
  movesByItself: false,
  inverse: () => null,
  multiplies: () => false,
  cuts: () => false,
  bounds: (_: unknown, from: Bounds) => from,
  back: () => null,
  points: [],
  inProof: 'counts',
  check: () => null,
  ofSource: (_: unknown, words: readonly number[]) => words,
  intoBits: () => null,
} as const;

type Own<Schema extends StepSchema> = Omit<StepDefinition<Schema>, keyof typeof common> &
  Partial<Pick<StepDefinition<Schema>, keyof typeof common>>;

/** A definition with what most steps have in common: nothing looks back, nothing can be undone, the bounds stay. */
export function defineStep<Schema extends StepSchema>(own: Own<Schema>): StepDefinition<Schema> {
  return { ...common, ...own };
}
