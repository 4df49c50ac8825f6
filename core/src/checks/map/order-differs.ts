import { defineCheck, type Fix, fixOf } from '../../findings/index.js';
import type { Change, Point } from '../../model/index.js';
import { isNumeric, widthOf } from '../../types/index.js';

/**
 * One device hardly ever writes values of one type in two orders: where a single one differs from several others, it was
 * probably read wrongly from the papers.
 */
export const orderDiffers = defineCheck({
  id: 'order-differs',
  severity: 'warning',
  scope: 'map',
  doubts: true,
  meaning: 'A value of a device is read in another byte order than its other values of the same type.',
  find: ({ device, points }) => {
    const byType = new Map<string, Point[]>();
    for (const point of points) {
      if (!isNumeric(point.type) || widthOf(point.type) < 2) continue;
      byType.set(point.type, [...(byType.get(point.type) ?? []), point]);
    }
    return [...byType.values()].flatMap((alike) => {
      const counts = new Map<Point['order'], number>();
      for (const { order } of alike) counts.set(order, (counts.get(order) ?? 0) + 1);
      const [usual, times] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? ['ABCD', 0];
      const differing = alike.filter(({ order }) => order !== usual);
      if (differing.length === 0 || times < 2 || differing.length >= times) return [];
      return differing.map((point) => ({
        message: `${device}: ${point.name} is read in the order ${point.order}, but ${times} other values of the type ${point.type} in ${usual}. A device seldom has two.`,
        mend: `Read it, and find its order by the value that you expect; if it is like the others, set ${usual}.`,
        fixes: [
          fixOf(`Set ${point.name} to ${usual}`, 'point', point, { order: usual }),
          orderOfAll(
            alike.filter((other) => other.order === usual),
            point.order,
          ),
        ],
        at: { entity: 'point' as const, id: point.id, field: 'order' },
      }));
    });
  },
});

function orderOfAll(points: readonly Point[], order: Point['order']): Fix {
  const changes = points.map((point): Change => ({ entity: 'point', id: point.id, before: point, after: { ...point, order } }));
  return { label: `Set the other ${points.length} to ${order}`, changes };
}
