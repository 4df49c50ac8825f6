import { orderOf } from '../../placing/index.js';
import { defineCheck, fixOf } from '../../findings/index.js';
import { pointWidth } from '../../model/index.js';
import { shortOrder } from '../../value/index.js';

export const imageOrder = defineCheck({
  id: 'image-order',
  severity: 'warning',
  scope: 'converter',
  doubts: true,
  meaning: 'The order of a value is not that which follows from the windows of its converter.',
  find: ({ converter, far, document, sideOf }) =>
    far.flatMap((point) => {
      const follows = orderOf(document, point);
      const isOneByte = point.type === 'bit';
      if (follows === null || isOneByte) return [];
      const same = pointWidth(point) > 1 ? shortOrder(point.order) === follows : swapsBytes(point.order) === swapsBytes(follows);
      if (same) return [];
      return {
        message: `${point.name} is read as ${shortOrder(point.order)}, but ${sideOf(point)} lays it into the image of ${converter.name} so that its registers hold ${follows}.`,
        mend: `Set its order to ${follows}, or set the byte order of the window in the converter.`,
        fix: fixOf(`Set the order of ${point.name} to ${follows}`, 'point', point, { order: follows }),
        at: { entity: 'point' as const, id: point.id, field: 'order' },
      };
    }),
});

function swapsBytes(order: Parameters<typeof shortOrder>[0]): boolean {
  return ['BADC', 'DCBA'].includes(shortOrder(order));
}
