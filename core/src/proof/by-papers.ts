import { carryAcross, type Chain } from '../route/index.js';
import { expectedAt, hasArrived, type Papers, wordsOf } from './expect.js';
import { tellTales } from './tell-tales.js';
import { misplacedByPapers } from './why-other.js';

/**
 * Whether what a route carries would mean the same at both ends, worked out from the papers of both devices without sending anything:
 * null where it would, or a sentence that says what becomes of which value.
 */
export function arrivesByPapers(chain: Chain, papers: Papers): string | null {
  const placed = [
    [chain.source, papers.source],
    [chain.destination, papers.destination],
  ] as const;
  for (const [point, paper] of placed) {
    const misplaced = misplacedByPapers(point, paper);
    if (misplaced) return misplaced;
  }
  let count = 0;
  for (const { value } of tellTales(papers.source, 1)) {
    const words = wordsOf({ point: papers.source, value });
    const expected = expectedAt(value, chain, papers, []);
    const carried = words && carryAcross(words, chain);
    if (!expected.ok || !carried?.ok || carried.value.kind === 'held') continue;
    count += 1;
    if (!hasArrived(carried.value.words, expected.value, papers.destination))
      return `${String(value)} at ${papers.source.name} becomes another value at ${papers.destination.name}.`;
  }
  return count > 0 ? null : `No value of ${papers.source.name} goes across.`;
}
