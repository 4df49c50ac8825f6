/// <reference lib="webworker" />
import { compiler } from '@plain-envoy/core/compile';
import type { Finding } from '@plain-envoy/core/findings';
import { type Mend, tryMend } from '@plain-envoy/core/mends';
import type { ProjectDocument } from '@plain-envoy/core/model';
import '@plain-envoy/core/formula';
import '@plain-envoy/core/re2';

/** What was tried on a copy for one finding, and makes nothing worse. */
export interface Tried {
  of: Pick<Finding, 'check' | 'at'>;
  mends: Mend[];
}

/** So many findings have their mends tried: nobody works through more before the next edit. */
const MAX_TRIED = 100;

/** Tries the mends of one finding after the other; whoever has another document ends the worker. */
addEventListener('message', ({ data: { document } }: MessageEvent<{ document: ProjectDocument }>) => {
  const compiled = compiler()(document);
  const compileCopy = compiler();
  for (const finding of compiled.findings.filter(({ fixes }) => fixes.length > 0).slice(0, MAX_TRIED)) {
    const mends = finding.fixes.flatMap((fix) => tryMend(document, compiled, finding, fix, compileCopy) ?? []);
    postMessage({ of: { check: finding.check, at: finding.at }, mends } satisfies Tried);
  }
});
