import type { At, Code, Scope, Type } from '../language/index.js';

/** A call of a function of the language, with its arguments in the order of its parameters. */
export interface Call {
  name: string;
  args: Code[];
  at: At;
  scope: Scope;
  /** The type of number that the result is for; null where none is known. */
  wanted: Type | null;
}

/** A function of the language. */
export interface StandardFunction {
  name: string;
  /** Names of what it takes; the last one is counted up where more may follow (`IN1`, `IN2`, …). */
  parameters: readonly string[];
  /** How many more may follow. */
  more?: boolean;
  /** Of the last ones, how many may be left out. */
  optional?: number;
  /** The type of what it takes, where that is another than that of what it gives. */
  takes?: Type;
  /** Checks the arguments and makes what works it out. */
  compile(call: Call): Code;
  /** It does something as well, so what it gives need not be put anywhere. */
  acts?: boolean;
  /** For stand-ins only: no controller has it. */
  ours?: boolean;
  /** What it does, in a sentence, for whoever writes. */
  says: string;
}
