import { defineCheck, fixOf } from '../../findings/index.js';
import { paperPointOf, releasedInPapers } from '../../papers/index.js';
import { deviceName } from '../../plan/index.js';

export const releaseInPapers = defineCheck({
  id: 'release-in-papers',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A device ignores what is written to a point until another is set, as its papers say, and its map does not.',
  find: ({ routes, look }) => {
    const told = new Set<string>();
    return routes.flatMap(({ row: { destination } }) => {
      const device = look.device.get(destination.deviceId);
      if (!device || destination.releasedBy !== null || told.has(destination.id)) return [];
      const releasing = releasedInPapers(look.document, destination);
      const wanted =
        releasing === null
          ? undefined
          : look.document.points.find((point) => point.deviceId === device.id && paperPointOf(look.document, point)?.name === releasing);
      if (!wanted) return [];
      told.add(destination.id);
      return {
        message: `${deviceName(destination, look)} ignores what is written to ${destination.name} until ${wanted.name} is set. Its papers say so; the map does not.`,
        mend: `Say in the map that ${wanted.name} releases ${destination.name}.`,
        fix: fixOf(`${destination.name} is released by ${wanted.name}`, 'point', destination, { releasedBy: wanted.id }),
        at: { entity: 'point' as const, id: destination.id, field: 'releasedBy' },
      };
    });
  },
});
