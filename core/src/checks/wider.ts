import type { Found } from '../findings/index.js';
import { type Point, pointWidth } from '../model/index.js';

/** Points whose bits have no room in the registers of their type: `lies` says how many there are, and in what. */
export function widerIn(points: readonly Point[], lies: (point: Point) => { bits: number; of: string } | null): Found[] {
  return points.flatMap((point) => {
    const at = lies(point);
    const room = point.type === 'bit' ? 1 : 16 * pointWidth(point);
    if (!at || at.bits <= room) return [];
    return {
      message: `${point.name} has ${at.bits} bits in ${at.of}, and its type ${point.type} holds ${room}: a value past them does not come, and nothing else of that message either.`,
      mend: 'Choose a wider type, or say how many bits it really has.',
      at: { entity: 'point' as const, id: point.id, field: 'type' },
    };
  });
}
