/// <reference lib="webworker" />
import '@plain-envoy/core/formula';
import {
  type Advice,
  advise,
  type Forecast,
  forecast,
  onProject,
  type RealAnswers,
  type WhatIf,
  whatIfChanges,
} from '@plain-envoy/core/forecast';
import { applyChanges, type Change, type ProjectDocument } from '@plain-envoy/core/model';
import { type PlannedRequest } from '@plain-envoy/core/plan';
import { v7 as newId } from 'uuid';
import { compiler } from '@plain-envoy/core/compile';

/** What is supposed, of a document or of what has changed since the last one. */
export interface ForecastRequest {
  serial: number;
  task: 'forecast' | 'advice';
  document?: ProjectDocument;
  changes?: readonly Change[];
  whatIf: WhatIf;
  backsOff: boolean;
  horizonMs: number;
  /** What was measured on the real plant. */
  real: RealAnswers;
}

/** The plan as it would run. */
export interface Forecasted {
  forecast: Forecast;
  requests: PlannedRequest[];
}

export type ForecastAnswer =
  | { serial: number; task: 'forecast'; base: Forecasted; other: Forecasted | null; tookMs: number }
  | { serial: number; task: 'advice'; advice: Advice[] };

const [compileBase, compileOther] = [compiler(), compiler()];
let known: ProjectDocument | null = null;
/** Supposed rounds keep their ids while a slider moves, so that little has to be compiled anew. */
const roundIds = new Map<string, string>();

function roundIdOf(deviceId: string): string {
  const id = roundIds.get(deviceId) ?? newId();
  roundIds.set(deviceId, id);
  return id;
}

addEventListener('message', ({ data }: MessageEvent<ForecastRequest>) => {
  const { serial, task, document, changes, whatIf, backsOff, horizonMs, real } = data;
  const from = performance.now();
  known = document ?? applyChanges(known!, changes ?? []);
  const supposing = whatIfChanges(known, whatIf, roundIdOf);
  const supposed = applyChanges(known, supposing);
  const conditions = { horizonMs, dead: whatIf.dead, backsOff };
  if (task === 'advice') {
    const own = known;
    const found = advise(supposed, conditions, compileOther, real).map((item) => ({ ...item, changes: onProject(own, item.changes) }));
    answer({ serial, task, advice: found.filter(({ changes: left }) => left.length > 0) });
    return;
  }
  const base = run(known, compileBase, { ...conditions, dead: [], backsOff: true });
  const other = supposing.length || whatIf.dead.length || !backsOff ? run(supposed, compileOther, conditions) : null;
  answer({ serial, task, base, other, tookMs: performance.now() - from });
});

function run(document: ProjectDocument, compile: ReturnType<typeof compiler>, conditions: Parameters<typeof forecast>[2]): Forecasted {
  const { plan } = compile(document);
  return { forecast: forecast(document, plan, conditions), requests: plan.requests };
}

function answer(message: ForecastAnswer): void {
  postMessage(message);
}
