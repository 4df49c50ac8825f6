import type { Member, SerialBus } from '../../findings/index.js';

/** The two ends of an RS-232 line; null where there are not just two. */
export function pairOf({ line, members }: SerialBus): [Member, Member] | null {
  const [a, b] = members;
  return line.standard === 'rs232' && a && b && members.length === 2 ? [a, b] : null;
}
