import type { KeptProof } from './result.js';

/** What was proved, as evidence keeps it. */
interface Kept {
  kind: string;
  of: string;
  at: string;
  by: string | null;
  body: Record<string, unknown>;
}

/** The newest proof of each route, by the id of the route, out of evidence in the order in which it was kept. */
export function newestProofs(evidence: readonly Kept[]): Map<string, { proof: KeptProof; at: string; by: string | null }> {
  const proofs = evidence.filter(({ kind }) => kind === 'proof');
  return new Map(proofs.map(({ of, at, by, body }) => [of, { proof: body as unknown as KeptProof, at, by }]));
}
