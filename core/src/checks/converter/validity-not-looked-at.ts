import { defineCheck, fixOf } from '../../findings/index.js';
import { isFar, isTold, messageOf, tellsValid } from '../../place/index.js';

export const validityNotLookedAt = defineCheck({
  id: 'validity-not-looked-at',
  severity: 'advice',
  scope: 'converter',
  meaning: 'A value behind a converter is carried also when nothing comes of it any more, and keeps its last value as if it were good.',
  find: ({ far, document }) => {
    const byId = new Map(far.map((point) => [point.id, point]));
    return document.routes.flatMap((route) => {
      const source = byId.get(route.sourceId);
      if (!source || !isFar(source.place) || isTold(source.place) || source.access !== 'read') return [];
      const { deviceId, place: own } = source;
      const valid = far.find(({ place, deviceId: id }) => id === deviceId && tellsValid(place) && messageOf(place) === messageOf(own));
      const looks = route.whileId !== null && route.whileId === valid?.id;
      const isCarried = document.routes.some(({ sourceId }) => sourceId === valid?.id);
      if (looks || isCarried) return [];
      return {
        message: `${route.name}: when nothing comes of ${source.name} any more, its converter keeps the last value, and nothing at the destination tells.`,
        mend: valid
          ? `Carry ${valid.name} beside it, or this only while that is on.`
          : 'Take a point that tells whether what it comes with is valid, and carry it beside it.',
        ...(valid ? { fix: fixOf(`Carry ${route.name} only while ${valid.name}`, 'route', route, { whileId: valid.id }) } : {}),
        at: { entity: 'route' as const, id: route.id, field: 'whileId' },
      };
    });
  },
});
