import { defineCheck } from '../../findings/index.js';

export const errandBesideRoute = defineCheck({
  id: 'errand-beside-route',
  severity: 'advice',
  scope: 'errand',
  meaning: 'An errand writes a point that a route writes again in its next round.',
  find: ({ errand, points, nameOf, writers }) => {
    for (const step of errand.steps) {
      const route = step.kind === 'write' ? writers.get(step.pointId) : undefined;
      const point = step.kind === 'write' ? points.get(step.pointId) : undefined;
      if (!route || !point) continue;
      return [
        {
          message: `${errand.name} writes ${nameOf(point)}, and the route ${route.name} writes it again in its next round: what the errand wrote lasts no longer.`,
          mend: 'Let the errand write the source of the route, let the route go out on change, or force it meanwhile.',
          at: { entity: 'errand', id: errand.id },
        },
      ];
    }
    return [];
  },
});
