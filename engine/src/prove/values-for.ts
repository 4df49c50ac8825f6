import type { Point } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import { alongside, expectedAt, type TellTale, tellTales } from '@plain-envoy/core/proof';
import type { Value } from '@plain-envoy/core/value';
import type { Case, ProofBench } from './route-case.js';

/** Values that show a mistake, as far as the device can say them; of one that says only codes, those. */
export function valuesFor(
  point: Point,
  own: number,
  routes: readonly Pick<Case, 'route'>[],
  bench: Pick<ProofBench, 'canSay'>,
): TellTale[] {
  const sayable = tellTales(point, own).filter(({ value }) => bench.canSay(point, value));
  const codes = point.codes.map(({ value, name }) => ({ value, shows: name }));
  const all = sayable.length > 1 ? sayable : codes.filter(({ value }) => bench.canSay(point, value));
  // What a message has no room for would keep all else of it from going out.
  return all.filter(({ value }) => routes.every(({ route }) => hasRoom(route, value, bench)));
}

/** Whether the destination can say what arrives; what its type does not hold anyway is another matter. */
export function hasRoom(route: PlannedRoute, value: Value, bench: Pick<ProofBench, 'canSay'>): boolean {
  const expected = expectedAt(value, route, { source: route.source, destination: route.destination }, alongside(route));
  return !expected.ok || bench.canSay(route.destination, expected.value.value);
}
