import { newestProofs } from '@plain-envoy/core/proof';
import { defineTable } from './definition.js';

/** The newest proof of each route, with every value that was sent. */
export const proofs = defineTable({
  stem: 'proofs',
  head: ['Route', 'State', 'At', 'Revision', 'By', 'On', 'What was seen', 'Value', 'Sent', 'Expected', 'Found', 'ms'],
  rows: ({ document, evidence }) => {
    const newest = newestProofs(evidence);
    return document.routes.flatMap(({ id, name }) => {
      const kept = newest.get(id);
      if (!kept) return [];
      const { state, sentence, checks, on, revision } = kept.proof;
      const own = [name, state, kept.at, revision, kept.by, on, sentence];
      if (checks.length === 0) return [[...own, null, null, null, null, null]];
      return checks.map(({ shows, sent, expected, found, ms }) => [...own, shows, sent, expected, found, ms]);
    });
  },
});
