import { bad, type Outcome } from '../outcome/index.js';

/** An expression in one variable, understood once and worked out often. It holds numbers, x, + − * / % ^ and a few functions. */
export interface Arithmetic {
  /** What it gives for this x; a division by zero and the like are problems. */
  at(x: number): Outcome<number>;
}

let read: (text: string) => Outcome<Arithmetic> = (text) => bad(`“${text}” is not worked out here.`, 'expression');

/** Who understands formulas; a package that does is brought by who works them out (`core/formula`). */
export function useFormulas(reader: (text: string) => Outcome<Arithmetic>): void {
  read = reader;
}

/** Reads an expression. Anything that it does not know is a problem that names it. */
export function readExpression(text: string): Outcome<Arithmetic> {
  return read(text);
}
