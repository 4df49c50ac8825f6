import type { Route } from '../model/index.js';
import type { ValidRoute } from '../plan/index.js';
import { roomOf } from '../route/index.js';
import { bitsOfDestination } from '../steps/index.js';

/** The steps of a route with one more that keeps the value in what the destination holds. Putting it into bits stays the last. */
export function limited({ route: { transforms }, destination }: ValidRoute): Pick<Route, 'transforms'> {
  const limit = { kind: 'clamp', ...roomOf(destination, transforms) } as const;
  const isInBits = bitsOfDestination(transforms) !== null;
  return { transforms: isInBits ? [...transforms.slice(0, -1), limit, transforms.at(-1)!] : [...transforms, limit] };
}
