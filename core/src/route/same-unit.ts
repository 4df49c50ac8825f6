import type { Chain } from './carry.js';
import { type Transform } from '../steps/index.js';

/**
 * Steps that multiply between two ends of one unit. The same quantity has the same number at both, as each end's own scale says;
 * so such a factor means that a scale is applied twice. An offset or a formula may be a correction and is none of them.
 */
export function factorsWithinUnit({ source, destination, transforms }: Pick<Chain, 'source' | 'destination' | 'transforms'>): Transform[] {
  if (source.unit === '' || source.unit !== destination.unit) return [];
  return transforms.filter((step) => step.kind === 'scale' && step.factor !== 1 && step.offset === 0);
}
