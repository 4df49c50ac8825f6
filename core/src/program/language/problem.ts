import type { IToken } from 'chevrotain';

/** A place in the text of a program, from 1. */
export interface At {
  line: number;
  column: number;
}

/** What is wrong with a program, where, in a sentence. */
export interface ProgramProblem extends At {
  message: string;
}

/** Thrown while a text is checked, where nothing that follows would make sense; caught where the next statement begins. */
export class Mistake extends Error {
  constructor(
    message: string,
    readonly at: At,
  ) {
    super(message);
  }
}

/** Thrown while a program runs: it stops here. */
export class Stopped extends Error {
  constructor(
    message: string,
    readonly at: At,
  ) {
    super(message);
  }
}

export function mistake(at: At, message: string): never {
  throw new Mistake(message, at);
}

export function placeOf({ startLine, startColumn }: IToken): At {
  return { line: startLine ?? 1, column: startColumn ?? 1 };
}
