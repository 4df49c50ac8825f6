import { z } from 'zod';
import type { Attachments } from '../attachments/index.js';
import type { Claims } from '../claims/index.js';
import type { Imports } from '../files/index.js';
import type { Database } from '../database/index.js';
import type { Catalogue, ProjectStore, Revisions } from '../projects/index.js';
import type { Evidence } from '../evidence/index.js';
import type { Library } from '../library/index.js';
import type { Words } from '../words/index.js';
import type { Workplaces } from '../workplaces/index.js';

/** What the routes work with. */
export interface Services {
  database: Database;
  projects: ProjectStore;
  catalogue: Catalogue;
  revisions: Revisions;
  workplaces: Workplaces;
  evidence: Evidence;
  imports: Imports;
  library: Library;
  words: Words;
  attachments: Attachments;
  claims: Claims;
}

export const ById = z.object({ id: z.uuid('That is no id of a project.') });
