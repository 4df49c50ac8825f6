import { inject, Injectable } from '@angular/core';
import type { Finding } from '@plain-envoy/core/findings';
import { hasFormulas, hasPatterns, type ProjectDocument } from '@plain-envoy/core/model';
import type { Plan } from '@plain-envoy/core/plan';
import { BehaviorSubject, filter, fromEvent, map } from 'rxjs';
import type { CompileRequest } from './compiling';
import { ProjectStore } from './project';
import { derived } from './state';

interface Compiled {
  plan: Plan;
  findings: Finding[];
}

type Answer = { serial: number } & (Compiled | { doubts: ReadonlyMap<string, string> });

const nothing: Compiled = { plan: { endpoints: [], requests: [], routes: [] }, findings: [] };

/** The plan and the findings of the open project, compiled in a web worker after each edit. */
@Injectable({ providedIn: 'root' })
export class PlanStore {
  private readonly compiled = new BehaviorSubject(nothing);
  private readonly doubted = new BehaviorSubject<ReadonlyMap<string, string>>(new Map());
  private serial = 0;
  private sent: ProjectDocument | null = null;
  private running: { worker: Worker; withPatterns: boolean } | null = null;

  readonly plan$ = derived(this.compiled, ({ plan }) => plan);
  /** What keeps something from running comes first. */
  readonly findings$ = derived(this.compiled, ({ findings }) => findings);
  /** Why what is read as good may be wrong all the same, by point and route. */
  readonly doubts$ = this.doubted.asObservable();

  constructor() {
    inject(ProjectStore).opened$.subscribe((opened) => {
      if (!opened || opened.document === this.sent) return;
      const { document, edit } = opened;
      const worker = this.workerFor(document);
      // The worker keeps a copy of its own; copying all of it after each edit would hold the page up.
      const message: CompileRequest = {
        serial: ++this.serial,
        ...(edit && edit.from === this.sent ? { changes: edit.changes } : { document }),
      };
      worker.postMessage(message);
      this.sent = document;
    });
  }

  /** What runs patterns and formulas is large, and few projects have one: the worker that has it is started where it is needed. */
  private workerFor(document: ProjectDocument): Worker {
    const withPatterns = hasPatterns(document) || hasFormulas(document);
    if (this.running && (this.running.withPatterns || !withPatterns)) return this.running.worker;
    this.running?.worker.terminate();
    const worker = withPatterns
      ? new Worker(new URL('./compile-with-patterns.worker', import.meta.url), { type: 'module' })
      : new Worker(new URL('./compile.worker', import.meta.url), { type: 'module' });
    fromEvent<MessageEvent<Answer>>(worker, 'message')
      .pipe(
        map(({ data }) => data),
        filter(({ serial }) => serial === this.serial),
      )
      .subscribe((answer) => {
        if ('doubts' in answer) this.doubted.next(answer.doubts);
        else this.compiled.next(answer);
      });
    this.running = { worker, withPatterns };
    this.sent = null;
    return worker;
  }
}
