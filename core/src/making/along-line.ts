import type { Port } from '../media/index.js';

/**
 * The ports of a line, which are given in their order along it, with the one at index `from` put to index `to`. The places stay and the
 * devices move: each takes over the order and, on a cable, the distance from its beginning of the place where it now hangs. Only those
 * that changed come back.
 */
export function alongLine<P extends Port>(ports: readonly P[], from: number, to: number): P[] {
  const order = [...ports];
  order.splice(to, 0, ...order.splice(from, 1));
  return order.flatMap((port, index) => {
    const place = ports[index]!;
    if (place === port) return [];
    return [{ ...port, position: place.position, ...('atM' in place ? { atM: place.atM } : {}) }];
  });
}
