import type { Outcome } from '../outcome/index.js';
import type { Value } from '../value/index.js';
import { stepOf, type Transform, type TransformKind } from './list.js';
import type { BitSpan, Bounds, StepMemory, StepResult, StepSurroundings } from './definition.js';

/** What each step remembers of the last value that went out; empty before the first. */
export type ChainMemory = readonly (StepMemory | undefined)[];

export function runStep(step: Transform, value: Value, around: StepSurroundings, before?: StepMemory): Outcome<StepResult> {
  return stepOf(step.kind).run(step, value, around, before);
}

export function describeStep(step: Transform): string {
  return stepOf(step.kind).describe(step);
}

/** The whole chain: `× 10, round → whole`. Empty where the value crosses as it is. */
export function describeChain(steps: readonly Transform[]): string {
  return steps.map(describeStep).join(', ');
}

/** The chain the other way round, as far as its steps can be undone, and the kinds of those that cannot. */
export function inverseChain(steps: readonly Transform[]): { steps: Transform[]; lost: TransformKind[] } {
  const back = [...steps].reverse().map((step) => ({ step, inverse: stepOf(step.kind).inverse(step) as Transform | null }));
  return { steps: back.flatMap(({ inverse }) => inverse ?? []), lost: back.flatMap(({ step, inverse }) => (inverse ? [] : [step.kind])) };
}

/** What can arrive at the end of a chain for what can go in. */
export function boundsThrough(steps: readonly Transform[], from: Bounds): Bounds {
  return steps.reduce((bounds, step) => stepOf(step.kind).bounds(step, bounds), from);
}

/** The value that goes in where this one arrives; null where a step keeps no order. */
export function backThrough(steps: readonly Transform[], value: number): number | null {
  return [...steps].reverse().reduce<number | null>((at, step) => (at === null ? null : stepOf(step.kind).back(step, at)), value);
}

/** The registers of the source as the value is read from them. */
export function wordsOfSource(steps: readonly Transform[], words: readonly number[]): readonly number[] {
  return steps.reduce((from, step) => stepOf(step.kind).ofSource(step, from), words);
}

/** The bits of the destination that the chain puts its value into; null: all of it. */
export function bitsOfDestination(steps: readonly Transform[]): BitSpan | null {
  for (const step of steps) {
    const span = stepOf(step.kind).intoBits(step);
    if (span) return span;
  }
  return null;
}

/** What the steps have to remember of a value that went out; `values` are the one at the source and those after each step. */
export function memoryOf(steps: readonly Transform[], values: readonly Value[], atMs: number): ChainMemory {
  return steps.map(({ kind }, index) => (stepOf(kind).looksBack ? { value: values[index + 1] as number, atMs } : undefined));
}

/** The points that the steps name beside the route's own ends, with what they hold while a proof sends values across. */
export function pointsOfSteps(steps: readonly Transform[]): { pointId: string; whileProved: Value | null }[] {
  return steps.flatMap((step) =>
    stepOf(step.kind).points.flatMap(({ field, whileProved }) => {
      const pointId = (step as Record<string, unknown>)[field];
      return typeof pointId === 'string' && pointId ? [{ pointId, whileProved }] : [];
    }),
  );
}
