import { type Problem } from '@plain-envoy/core/outcome';

/** What the server refuses, by codes that stay, with the HTTP status of each. A refusal's sentence and place are said where it is made. */
export const refusals = {
  /** What was named is not in the project, or has ended. */
  'not-there': 404,
  /** A value, or what belongs to it, does not fit; `path` says which. */
  'does-not-fit': 422,
  /** It fits, but not in the state that things are in, such as a bench that stands still. */
  'not-now': 409,
  /** It changes something in a device, and nobody has said yet that it may. */
  'not-confirmed': 409,
  /** Somebody else edited the same meanwhile; `current` and `revision` say how it is now. */
  'changed-meanwhile': 409,
  /** A passphrase is set, and nobody has signed in, or not any more. */
  'not-signed-in': 401,
  'wrong-passphrase': 401,
  'too-often': 429,
  /** Nobody has armed the real plant for this, or not any more. */
  'not-armed': 403,
  /** The asker is a page of another site, or came by another host name. */
  'foreign-asker': 403,
  /** The body is not of the kind that is taken there. */
  'wrong-media': 415,
  'not-json': 400,
  'too-large': 413,
  /** The request could not be understood for another reason. */
  'bad-request': 400,
  /** The device was asked, and did not do it. */
  'device-failed': 502,
  /** The database, the engine or the stand-ins do not answer. */
  'no-database': 503,
  'no-engine': 503,
  'no-stand-ins': 503,
  /** A mistake of the server itself. */
  'server-failed': 500,
} as const;
export type RefusalCode = keyof typeof refusals;

/** Something that a request asked and that cannot be done. */
export class ProblemError extends Error {
  constructor(
    readonly code: RefusalCode,
    readonly problem: Problem,
    /** More that the asker needs, such as the row as it is now. */
    readonly details: Record<string, unknown> = {},
  ) {
    super(problem.message);
  }
}

export function refuse(code: RefusalCode, message: string, path: (string | number)[] = [], details: Record<string, unknown> = {}): never {
  throw new ProblemError(code, { message, path }, details);
}
