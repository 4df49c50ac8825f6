import { defineTable, ofKind } from './definition.js';

/** What was written, held or armed by hand. */
export const byHand = defineTable({
  stem: 'by-hand',
  head: ['At', 'Revision', 'By', 'What was done'],
  rows: (file) => ofKind(file, 'hand').map(({ at, by, revision, body }) => [at, revision, by, String(body['sentence'] ?? '')]),
});
