import type { Point, ProjectDocument } from '../model/index.js';
import { type Finding, fixOf } from './finding.js';
import { widthOf, isNumeric } from '../types/index.js';

/** What looks wrong in a register map by itself. A controller's memory is what others put into it, and is not judged. */
export function checkMaps({ devices, points }: Pick<ProjectDocument, 'devices' | 'points'>): Finding[] {
  const byDevice = new Map<string, Point[]>(devices.map(({ id }) => [id, []]));
  for (const point of points) byDevice.get(point.deviceId)?.push(point);
  return devices.filter(({ kind }) => kind !== 'controller').flatMap(({ id, name }) => checkOrders(name, byDevice.get(id)!));
}

/**
 * One device hardly ever writes values of one type in two orders: where a single one differs from several others, it was
 * probably read wrongly from the papers.
 */
function checkOrders(device: string, points: readonly Point[]): Finding[] {
  const byType = new Map<string, Point[]>();
  for (const point of points) {
    if (!isNumeric(point.type) || widthOf(point.type) < 2) continue;
    const alike = byType.get(point.type);
    if (alike) alike.push(point);
    else byType.set(point.type, [point]);
  }
  return [...byType.values()].flatMap((alike) => {
    const counts = new Map<Point['order'], number>();
    for (const { order } of alike) counts.set(order, (counts.get(order) ?? 0) + 1);
    const [usual, times] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? ['ABCD', 0];
    const differing = alike.filter(({ order }) => order !== usual);
    if (differing.length === 0 || times < 2 || differing.length >= times) return [];
    return differing.map((point): Finding => ({
      severity: 'warning',
      check: 'order-differs',
      message: `${device}: ${point.name} is read in the order ${point.order}, but ${times} other values of the type ${point.type} in ${usual}. A device seldom has two.`,
      mend: `Read it, and find its order by the value that you expect; if it is like the others, set ${usual}.`,
      fix: fixOf(`Set ${point.name} to ${usual}`, 'point', point, { order: usual }),
      at: { entity: 'point', id: point.id, field: 'order' },
    }));
  });
}
