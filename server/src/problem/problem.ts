import { type Problem } from '@plain-envoy/core/outcome';

/** Something that a request asked and that cannot be done, with the HTTP status that says so. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
    /** More that the asker needs, such as the row as it is now. */
    readonly details: Record<string, unknown> = {},
  ) {
    super(problem.message);
  }
}

export function refuse(status: number, message: string, path: (string | number)[] = [], details: Record<string, unknown> = {}): never {
  throw new ProblemError(status, { message, path }, details);
}
