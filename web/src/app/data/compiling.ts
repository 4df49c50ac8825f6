/// <reference lib="webworker" />
import { applyChanges, type Change, type ProjectDocument } from '@plain-envoy/core/model';
import { compiler } from '@plain-envoy/core/compile';
import { doubtsOf } from '@plain-envoy/core/doubt';
import { causesFirst } from '@plain-envoy/core/findings';

/** A document to compile, or what has changed since the last one. */
export interface CompileRequest {
  serial: number;
  document?: ProjectDocument;
  changes?: readonly Change[];
}

/** A web worker's whole work: it compiles what it is sent, and answers with the plan and the findings, then with what is in doubt. */
export function compileOnDemand(): void {
  const compile = compiler();
  let known: ProjectDocument | null = null;
  addEventListener('message', ({ data: { serial, document, changes } }: MessageEvent<CompileRequest>) => {
    known = document ?? applyChanges(known!, changes ?? []);
    const { plan, findings } = compile(known);
    postMessage({ serial, plan, findings: findings.sort(causesFirst) });
    postMessage({ serial, doubts: doubtsOf(known, plan, findings) });
  });
}
