/** Bad input is a value: either what was asked for, or a sentence that says what does not fit and where. */
export type Outcome<T> = { ok: true; value: T } | { ok: false; problem: Problem };

export interface Problem {
  message: string;
  path: (string | number)[];
}

export function good<T>(value: T): Outcome<T> {
  return { ok: true, value };
}

export function bad(message: string, ...path: (string | number)[]): { ok: false; problem: Problem } {
  return { ok: false, problem: { message, path } };
}
