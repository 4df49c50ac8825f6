import { newestProofs } from '@plain-envoy/core/proof';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import { csvFile, FORMULA } from '../files/index.js';

const HEAD = ['Route', 'State', 'At', 'Revision', 'By', 'On', 'What was seen', 'Value', 'Sent', 'Expected', 'Found', 'ms'];

/** The newest proof of each route with every value that was sent, as CSV; null where nothing was proved. */
export function proofsCsv({ document, evidence }: ProjectFile): string | null {
  const newest = newestProofs(evidence);
  if (newest.size === 0) return null;
  const rows = document.routes.flatMap(({ id, name }) => {
    const kept = newest.get(id);
    if (!kept) return [];
    const { state, sentence, checks, on, revision } = kept.proof;
    const own = [name, state, kept.at, revision, kept.by, on, sentence];
    if (checks.length === 0) return [[...own, null, null, null, null, null]];
    return checks.map(({ shows, sent, expected, found, ms }) => [...own, shows, sent, expected, found, ms]);
  });
  return csvFile([HEAD, ...rows], { escapeFormulae: FORMULA });
}
