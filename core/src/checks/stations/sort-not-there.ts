import { defineCheck } from '../../findings/index.js';
import { standardName } from '../../media/index.js';
import { labelOf } from '../../place/index.js';
import { isEventPoint } from '../../telecontrol-line/index.js';

const NOT_IN_1815 = new Set(['normalised', 'set normalised', 'double command']);
const LAST_1815 = 65_535;

export const sortNotThere = defineCheck({
  id: 'sort-not-there',
  severity: 'stop',
  scope: 'stations',
  doubts: true,
  meaning: 'A point of a telecontrol station is of a sort, or has an index, that its standard does not have.',
  find: ({ station: { line, points } }) =>
    points.filter(isEventPoint).flatMap(({ id, name, place }) => {
      const at = { entity: 'point' as const, id, field: 'place' };
      const standard = standardName(line);
      if (line.standard === 'ieee1815' && NOT_IN_1815.has(place.sort))
        return {
          message: `${name} is a ${labelOf(place.sort).toLowerCase()}, and ${standard} has none: the other end gets something else.`,
          mend: place.sort === 'double command' ? 'Make it a command.' : 'Make it a floating-point value.',
          at,
        };
      if (line.standard === 'ieee1815' && place.index > LAST_1815)
        return {
          message: `${name} has the index ${place.index}; in ${standard} they end at ${LAST_1815}.`,
          mend: 'Give it a smaller one.',
          at,
        };
      if (line.standard !== 'ieee1815' && place.index === 0)
        return {
          message: `${name} has the object address 0, which in ${standard} stands for no object.`,
          mend: 'Object addresses begin at 1; take the one that the list of the control station has.',
          at,
        };
      return [];
    }),
});
