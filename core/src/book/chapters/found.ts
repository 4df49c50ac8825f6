import { foundBeside, type FoundRow, foundTally, newestObserved } from '../../as-found/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';
import { momentText } from '../moment.js';

/** What devices and lines said when they were looked at last, beside this revision. */
export const found = defineChapter({
  chapter: 'found',
  make: ({ file: { document, evidence }, isIn }) => {
    const newest = newestObserved(evidence);
    const things = [...document.devices, ...document.lines].flatMap(({ id, name }) => {
      const observed = isIn(id) ? newest.get(id) : undefined;
      return observed ? [{ name, observed, rows: foundBeside(document, id, observed.body) }] : [];
    });
    return {
      blocks: [
        things.length === 0 ? words('Nothing was looked at yet.') : null,
        table(
          '',
          [
            { head: 'Device or line', of: ({ name }) => name, weight: 1.6 },
            { head: 'On', of: ({ observed }) => (observed.body.on === 'real' ? 'the real plant' : 'stand-ins') },
            { head: 'At', of: ({ observed }) => momentText(new Date(observed.atMs).toISOString()), weight: 1.4 },
            { head: 'By', of: ({ observed }) => observed.by },
            { head: 'Where it is at revision', of: ({ observed }) => observed.revision, isNumber: true },
            { head: 'As found', of: ({ rows }) => foundTally(rows), weight: 1.6 },
          ],
          things,
        ),
      ],
      sections: things.flatMap(({ name, rows }) => {
        const others = table<FoundRow>(
          '',
          [
            { head: 'What', of: ({ what }) => what, weight: 1.5 },
            { head: 'Designed', of: ({ designed }) => designed, weight: 1.5 },
            { head: 'Found', of: ({ found: says }) => says, weight: 3 },
            { head: '', of: ({ verdict }) => (verdict === 'differs' ? 'differs' : 'not known') },
          ],
          rows.filter(({ verdict }) => verdict === 'differs' || verdict === 'unknown'),
        );
        return others ? [section(name, [others])] : [];
      }),
    };
  },
});
