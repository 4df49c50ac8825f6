import type { Chain } from './carry.js';
import { stepOf, type Transform } from '../steps/index.js';

/**
 * Steps that multiply between two ends of one unit. The same quantity has the same number at both, as each end's own scale says;
 * so such a factor means that a scale is applied twice. What adds something may be a correction, and is none of them.
 */
export function factorsWithinUnit({ source, destination, transforms }: Pick<Chain, 'source' | 'destination' | 'transforms'>): Transform[] {
  if (source.unit === '' || source.unit !== destination.unit) return [];
  return transforms.filter((step) => stepOf(step.kind).multiplies(step));
}
