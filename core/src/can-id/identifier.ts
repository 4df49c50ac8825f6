import * as z from 'zod';

/** How many bits an identifier has: a base frame or an extended one (ISO 11898-1). */
export const IdentifierBits = z.union([z.literal(11), z.literal(29)], 'An identifier has 11 or 29 bits.');
export type IdentifierBits = z.infer<typeof IdentifierBits>;

/** An identifier as people write it: a number, or hex. */
export const Identifier = z
  .union([z.int().min(0), z.string().regex(/^0x[0-9a-f]{1,8}$/i)], 'A whole number from 0 on, or hex as 0x18FF1003.')
  .transform((given) => (typeof given === 'string' ? parseInt(given, 16) : given))
  .describe('A number, or hex as 0x18FF1003');

/** The largest identifier: 7FF or 1FFF FFFF. */
export function lastIdentifier(bits: IdentifierBits): number {
  return 2 ** bits - 1;
}

export const MOST_BYTES = 8;

/** What tells a frame apart from all others on its bus. */
export interface CanIdentifier {
  identifierBits: IdentifierBits;
  identifier: number;
}

/** Whose identifier does not fit its bits, in a sentence; null where it does. */
export function identifierProblem({ identifierBits, identifier }: CanIdentifier): string | null {
  const last = lastIdentifier(identifierBits);
  if (identifier <= last) return null;
  return `${hexIdentifier({ identifierBits: 29, identifier })} has more than ${identifierBits} bits: they end at ${hexIdentifier({ identifierBits, identifier: last })}.`;
}

/** `07F` and `0000007F`: so many figures as the bits need, by which the two kinds are told apart. */
export function hexIdentifier({ identifierBits, identifier }: CanIdentifier): string {
  return identifier
    .toString(16)
    .toUpperCase()
    .padStart(identifierBits === 11 ? 3 : 8, '0');
}

/**
 * Who comes first where two begin at once: below 0 where that is the first. A 0 is dominant, bit by bit; where the 11 bits of a base frame
 * are the first 11 of an extended one, the base frame wins (ISO 11898-1, arbitration).
 */
export function arbitrate(a: CanIdentifier, b: CanIdentifier): number {
  const base = ({ identifierBits, identifier }: CanIdentifier) => (identifierBits === 11 ? identifier : identifier >>> 18);
  return base(a) - base(b) || a.identifierBits - b.identifierBits || a.identifier - b.identifier;
}

/** How the bits of a signal count: up from its first, or as one reads. */
export const SignalOrder = z.enum(['little', 'big']);
