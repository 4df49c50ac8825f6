import { foundBeside, newestObserved } from '@plain-envoy/core/as-found';
import { defineTable } from './definition.js';

/** What devices and lines said when they were looked at last, thing by thing beside this revision. */
export const found = defineTable({
  stem: 'as-found',
  head: ['Device or line', 'At', 'By', 'On', 'Where it is at revision', 'What', 'Designed', 'Found', 'Verdict'],
  rows: ({ document, evidence }) =>
    [...newestObserved(evidence).values()].flatMap(({ of, atMs, by, revision, body }) =>
      foundBeside(document, of, body).map(({ what, designed, found: says, verdict }) => [
        ...[body.name, new Date(atMs).toISOString(), by, body.on, revision],
        ...[what, designed, says, verdict],
      ]),
    ),
});
