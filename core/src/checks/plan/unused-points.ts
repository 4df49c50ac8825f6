import { defineCheck, listed } from '../../findings/index.js';
import type { Point } from '../../model/index.js';

/** Points of devices that take part, and that no route carries; said once for each device. */
export const unusedPoints = defineCheck({
  id: 'unused-points',
  severity: 'advice',
  scope: 'plan',
  meaning: 'A device takes part in the exchange, and no route carries some of its points.',
  find: ({ look: { document, device } }) => {
    const used = new Set<string | null | undefined>();
    for (const { sourceId, destinationId, whileId, release, loss, trigger } of document.routes) {
      used.add(sourceId).add(destinationId).add(whileId).add(release?.pointId).add(loss.validId);
      if (trigger.on === 'edge') used.add(trigger.pointId);
    }
    const idle = new Map<string, Point[]>();
    const active = new Set<string>();
    for (const point of document.points) {
      if (used.has(point.id)) active.add(point.deviceId);
      else if (idle.has(point.deviceId)) idle.get(point.deviceId)!.push(point);
      else idle.set(point.deviceId, [point]);
    }
    return [...idle].flatMap(([deviceId, points]) => {
      const owner = device.get(deviceId);
      if (!owner || !active.has(deviceId)) return [];
      return {
        message: `${owner.name}: no route carries ${listed(points.map(({ name }) => name))}.`,
        mend: 'Route what is needed; the rest may stay as it is.',
        at: { entity: 'device' as const, id: deviceId },
      };
    });
  },
});
