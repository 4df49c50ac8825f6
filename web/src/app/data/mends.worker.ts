/// <reference lib="webworker" />
import { compiler } from '@plain-envoy/core/compile';
import type { Finding } from '@plain-envoy/core/findings';
import { type Mend, tryMend } from '@plain-envoy/core/mends';
import type { ProjectDocument } from '@plain-envoy/core/model';

/** What was tried on a copy for one finding, and makes nothing worse. */
export interface Tried {
  serial: number;
  of: Pick<Finding, 'check' | 'at'>;
  mends: Mend[];
}

/** So many findings have their mends tried: nobody works through more before the next edit. */
const MAX_TRIED = 100;

const [compile, compileCopy] = [compiler(), compiler()];
let latest = 0;

addEventListener('message', ({ data: { serial, document } }: MessageEvent<{ serial: number; document: ProjectDocument }>) => {
  latest = serial;
  void tryAll(serial, document);
});

/** Tries the mends of one finding after the other, until the next edit comes. */
async function tryAll(serial: number, document: ProjectDocument): Promise<void> {
  const compiled = compile(document);
  for (const finding of compiled.findings.filter(({ fixes }) => fixes.length > 0).slice(0, MAX_TRIED)) {
    await new Promise((done) => setTimeout(done));
    if (serial !== latest) return;
    const mends = finding.fixes.flatMap((fix) => tryMend(document, compiled, finding, fix, compileCopy) ?? []);
    postMessage({ serial, of: { check: finding.check, at: finding.at }, mends } satisfies Tried);
  }
}
