import * as z from 'zod';

/** One value that was sent from source to destination; `ms` is null for one that did not arrive. */
export const ProofCheck = z.strictObject({
  shows: z.string(),
  sent: z.string(),
  expected: z.string(),
  found: z.string(),
  ms: z.number().nullable(),
});
export type ProofCheck = z.infer<typeof ProofCheck>;

/** What became of a route when its source was cut off and put back. */
export const LossCheck = z.strictObject({ held: z.boolean(), back: z.boolean(), sentence: z.string() });
export type LossCheck = z.infer<typeof LossCheck>;

/** A value that went out by this route, was changed by one at the far end, and came back by another. */
export const EchoCheck = z.strictObject({ backId: z.uuid(), ok: z.boolean(), ms: z.number(), sentence: z.string() });
export type EchoCheck = z.infer<typeof EchoCheck>;

export const RouteProof = z.strictObject({
  routeId: z.uuid(),
  /** `carried`: its values arrive, and whether they mean the same at both ends is not known. */
  state: z.enum(['proved', 'carried', 'failed', 'not proved']),
  /** What was seen, and where it failed why. */
  sentence: z.string(),
  checks: z.array(ProofCheck),
  loss: LossCheck.nullable(),
  echo: EchoCheck.nullable(),
});
export type RouteProof = z.infer<typeof RouteProof>;

/** A proof as it is kept: with the revision of the project and what it rests on. */
export interface KeptProof extends RouteProof {
  atMs: number;
  revision: number;
  fingerprint: string | null;
  on: 'stand-ins' | 'real';
}

/** What a proof tells as it goes on. */
export type ProofEvent =
  | { kind: 'progress'; done: number; total: number; doing: string }
  /** A person is asked to do something on the real plant. */
  | { kind: 'ask'; routeId: string; sentence: string }
  | { kind: 'proof'; proof: KeptProof }
  | { kind: 'failed'; sentence: string }
  | { kind: 'done'; tookMs: number };
