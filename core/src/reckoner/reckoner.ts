import type { z } from 'zod';
import type { Outcome } from '../outcome/index.js';

/** One calculation with what goes in and what comes out. `reckon` gets input that its schema has already accepted. */
export interface Reckoner<In extends z.ZodType = z.ZodType, Out extends z.ZodType = z.ZodType> {
  name: string;
  sentence: string;
  /** An input that makes sense at once, for a form to start from. */
  example: z.input<In>;
  input: In;
  output: Out;
  reckon(input: z.output<In>): Outcome<z.output<Out>>;
}

/** Keeps the types of a reckoner's two schemas where it is written down. */
export function reckoner<In extends z.ZodType, Out extends z.ZodType>(definition: Reckoner<In, Out>): Reckoner {
  return definition as unknown as Reckoner;
}
