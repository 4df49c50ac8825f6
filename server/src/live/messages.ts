import { z } from 'zod';
import type { Batch } from '@plain-envoy/engine/runner';
import type { BenchState } from '../bench/index.js';
import type { Health } from '../database/index.js';
import type { Accepted } from '../projects/index.js';

/** What a page tells the server: which points of its project it looks at now. */
export const FromPage = z.strictObject({ watch: z.array(z.uuid()).max(50_000) });

/** What the server tells a page. */
export type ToPage =
  | { type: 'bench'; bench: BenchState }
  | { type: 'database'; database: Health }
  | { type: 'changed'; accepted: Accepted }
  | ({ type: 'values' } & Batch);
