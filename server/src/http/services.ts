import { z } from 'zod';
import type { Imports } from '../files/index.js';
import type { Arming } from '../arming/index.js';
import type { Bench } from '../bench/index.js';
import type { Database } from '../database/index.js';
import type { ProjectStore } from '../projects/index.js';
import type { ErrandRunner } from '../errands/index.js';
import type { Evidence } from '../evidence/index.js';
import type { Prover, RouteProofs } from '../prove/index.js';
import type { Played, StandInsControl } from '../standins/index.js';

/** What the routes work with. */
export interface Services {
  database: Database;
  projects: ProjectStore;
  arming: Arming;
  bench: Bench;
  standIns: StandInsControl;
  played: Played;
  prover: Prover;
  routeProofs: RouteProofs;
  evidence: Evidence;
  errands: ErrandRunner;
  imports: Imports;
}

export const ById = z.object({ id: z.uuid('That is no id of a project.') });
