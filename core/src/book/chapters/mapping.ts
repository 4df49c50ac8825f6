import { mappingCells } from '../../handover/index.js';
import { mappingSheet } from '../../mapping/index.js';
import { type Block, section, words } from '../content.js';
import { defineChapter } from '../definition.js';

/** How much room each column of a mapping sheet takes. */
const WEIGHTS = [1.2, 1.2, 2.2, 1.1, 1.7, 1, 1, 1.1, 0.8, 0.8, 0.8, 0.7];

/** What is typed into the set-up of each converter. */
export const mapping = defineChapter({
  chapter: 'mapping',
  make: ({ file: { document }, isIn }) => {
    const converters = document.devices.filter(({ id, kind }) => kind === 'converter' && isIn(id));
    return {
      blocks: converters.length ? [] : [words('There is no converter.')],
      sections: converters.map((converter) => {
        const sheet = mappingSheet(document, converter);
        const { head, cells } = mappingCells(sheet);
        const values: Block = {
          kind: 'table',
          title: '',
          columns: head.map((name, at) => ({ head: name, weight: WEIGHTS[at]! })),
          rows: cells.slice(0, sheet.rows.length),
        };
        return section(converter.name, [...sheet.settings.map((text) => words(text)), sheet.rows.length ? values : null]);
      }),
    };
  },
});
