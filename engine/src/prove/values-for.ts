import type { Point } from '@plain-envoy/core/model';
import { type TellTale, tellTales } from '@plain-envoy/core/proof';
import type { ProofBench } from './route-case.js';

/** Values that show a mistake, as far as the device can say them; of one that says only codes, those. */
export function valuesFor(point: Point, own: number, bench: Pick<ProofBench, 'canSay'>): TellTale[] {
  const sayable = tellTales(point, own).filter(({ value }) => bench.canSay(point, value));
  const codes = point.codes.map(({ value, name }) => ({ value, shows: name }));
  return sayable.length > 1 ? sayable : codes.filter(({ value }) => bench.canSay(point, value));
}
