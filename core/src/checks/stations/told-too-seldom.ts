import { defineCheck } from '../../findings/index.js';
import { commands } from '../../place/index.js';
import { isEventPoint } from '../../telecontrol-line/index.js';

export const toldTooSeldom = defineCheck({
  id: 'told-too-seldom',
  severity: 'warning',
  scope: 'stations',
  meaning: 'A value of a telecontrol station is no event, and everything is asked for more seldom than the value may be old.',
  find: ({ station: { line, points }, document }) =>
    line.standard !== 'ieee1815'
      ? []
      : points.filter(isEventPoint).flatMap(({ id, name, place }) => {
          if (commands(place.sort) || place.eventClass !== 0 || place.part !== 'value') return [];
          const route = document.routes.find(({ sourceId, destinationId }) => sourceId === id || destinationId === id);
          if (!route || route.maxAgeMs === null || route.maxAgeMs >= line.allEveryMs) return [];
          return {
            message: `${name} is of class 0, so it is told only when everything is asked for, every ${line.allEveryMs / 1000} s; ${route.name} allows it ${route.maxAgeMs / 1000} s.`,
            mend: 'Give it a class of events, 1 to 3.',
            at: { entity: 'point' as const, id, field: 'place' },
          };
        }),
});
