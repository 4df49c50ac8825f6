/// <reference lib="webworker" />
import { applyChanges, type Change, type ProjectDocument } from '@plain-envoy/core/model';
import { compiler } from '@plain-envoy/core/compile';
import { findingKey } from '@plain-envoy/core/findings';
import { tryMend } from '@plain-envoy/core/mends';

/** A document to compile, or what has changed since the last one. */
export interface CompileRequest {
  serial: number;
  document?: ProjectDocument;
  changes?: readonly Change[];
}

/** So many findings have their mends tried: nobody works through more before the next edit. */
const MAX_TRIED = 100;

const compile = compiler();
/** Copies are compiled beside the project itself, so that what is known of it stays. */
const compileCopy = compiler();
let known: ProjectDocument | null = null;
let latest = 0;

addEventListener('message', ({ data: { serial, document, changes } }: MessageEvent<CompileRequest>) => {
  known = document ?? applyChanges(known!, changes ?? []);
  latest = serial;
  const compiled = compile(known);
  postMessage({ kind: 'compiled', serial, ...compiled });
  void tryMends(serial, known, compiled);
});

/** Tries the mends of one finding after the other, until the next edit comes. */
async function tryMends(serial: number, document: ProjectDocument, compiled: ReturnType<typeof compile>): Promise<void> {
  for (const finding of compiled.findings.filter(({ fixes }) => fixes.length > 0).slice(0, MAX_TRIED)) {
    await new Promise((done) => setTimeout(done));
    if (serial !== latest) return;
    const mends = finding.fixes.flatMap((fix) => tryMend(document, compiled, finding, fix, compileCopy) ?? []);
    postMessage({ kind: 'tried', serial, key: findingKey(finding), mends });
  }
}
