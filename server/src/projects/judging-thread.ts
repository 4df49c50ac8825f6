import { compile } from '@plain-envoy/core/compile';
import type { FindingCounts } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import '@plain-envoy/core/formula';
import '@plain-envoy/core/re2';
import { parentPort } from 'node:worker_threads';

/** A thread that is told projects, one after the other, and says how many findings each has. */
parentPort!.on('message', (document: ProjectDocument) => {
  const counts: FindingCounts = { stop: 0, warning: 0, advice: 0 };
  for (const { severity } of compile(document).findings) counts[severity] += 1;
  parentPort!.postMessage(counts);
});
