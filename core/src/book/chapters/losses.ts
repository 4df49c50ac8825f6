import {
  afterText,
  effectText,
  lossRests,
  lostWhen,
  type LostValue,
  measuredText,
  newestLosses,
  tripText,
  unnoticed,
} from '../../handover/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

/** For each device and line that takes something with it: what becomes of the values, and who notices. */
export const losses = defineChapter({
  chapter: 'losses',
  make: ({ file: { document, evidence }, plan, isIn }) => {
    const all = lostWhen(document, plan).filter(({ failing }) => isIn(failing.id));
    const newest = newestLosses(evidence);
    return {
      blocks: [
        all.length
          ? words('Reckoned from loss rules, watchdogs, and what passes on to what; from the moment of the failure.')
          : words('Nothing is carried yet, so nothing is lost.'),
      ],
      sections: all.map((row) => {
        const unmarked = unnoticed(row).length;
        const measured = newest.get(row.failing.id);
        const seen = new Map(measured?.values.map((value) => [value.routeId, value]));
        const isStale = measured && measured.rests !== lossRests(row);
        return section(`When the ${row.failing.kind} ${row.failing.name} fails`, [
          isStale ? words('It was measured before what is reckoned changed.', 'problem') : null,
          unmarked ? words(`${unmarked} of ${row.lost.length} values look as good as before.`, 'problem') : null,
          ...row.trips.map((trip) => words(tripText(trip))),
          table<LostValue>(
            '',
            [
              { head: 'Value', of: ({ destination }) => destination, weight: 2.5 },
              { head: 'What becomes of it', of: effectText, weight: 3 },
              { head: 'After', of: afterText, weight: 1.2 },
              { head: 'Route', of: ({ route }) => route, weight: 1.5 },
              { head: 'Measured', of: ({ routeId }) => measuredText(seen.get(routeId)), weight: 2.5 },
            ],
            row.lost,
          ),
        ]);
      }),
    };
  },
});
