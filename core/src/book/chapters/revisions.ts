import { table, words } from '../content.js';
import { defineChapter } from '../definition.js';
import { momentText } from '../moment.js';

/** The revisions that have names, the newest first. */
export const revisions = defineChapter({
  chapter: 'revisions',
  make: ({ file }) => ({
    blocks: [
      words(`This book is of revision ${file.revision}${file.revisedAt ? `, ${momentText(file.revisedAt)}` : ''}.`),
      file.revisions.length ? null : words('No revision has a name.'),
      table(
        '',
        [
          { head: 'Revision', of: ({ revision }) => revision, isNumber: true, weight: 0.7 },
          { head: 'Name', of: ({ name }) => name, weight: 1.5 },
          { head: 'Named at', of: ({ at }) => momentText(at), weight: 1.3 },
          { head: 'By', of: ({ by }) => by },
          { head: 'Note', of: ({ note }) => note, weight: 4 },
        ],
        [...file.revisions].reverse(),
      ),
    ],
    sections: [],
  }),
});
