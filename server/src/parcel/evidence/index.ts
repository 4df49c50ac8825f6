import { csvFile, FORMULA } from '../../files/index.js';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import { byHand } from './by-hand.js';
import { errands } from './errands.js';
import { found } from './found.js';
import { losses } from './losses.js';
import { proofs } from './proofs.js';
import { snapshots } from './snapshots.js';

/** What was seen and done, table by table. A new one is a file of its own and its name here. */
const tables = [proofs, losses, errands, snapshots, found, byHand];

/** Each table that has something in it, as CSV in which no cell is a formula. */
export function evidenceFiles(file: ProjectFile): { stem: string; text: string }[] {
  return tables.flatMap(({ stem, head, rows }) => {
    const all = rows(file);
    return all.length ? [{ stem, text: csvFile([head, ...all], { escapeFormulae: FORMULA }) }] : [];
  });
}
