import { inject, Injectable } from '@angular/core';
import type { Finding } from '@plain-envoy/core/findings';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Plan } from '@plain-envoy/core/plan';
import { BehaviorSubject, filter, fromEvent, map } from 'rxjs';
import type { CompileRequest } from './compile.worker';
import { ProjectStore } from './project';
import { derived } from './state';

interface Compiled {
  serial: number;
  plan: Plan;
  findings: Finding[];
}

const nothing: Compiled = { serial: 0, plan: { endpoints: [], requests: [], routes: [] }, findings: [] };

/** The plan and the findings of the open project, compiled in a web worker after each edit. */
@Injectable({ providedIn: 'root' })
export class PlanStore {
  private readonly compiled = new BehaviorSubject(nothing);
  private serial = 0;
  private sent: ProjectDocument | null = null;

  readonly plan$ = derived(this.compiled, ({ plan }) => plan);
  /** What keeps something from running comes first. */
  readonly findings$ = derived(this.compiled, ({ findings }) => findings);

  constructor() {
    const worker = new Worker(new URL('./compile.worker', import.meta.url), { type: 'module' });
    fromEvent<MessageEvent<Compiled>>(worker, 'message')
      .pipe(
        map(({ data }) => data),
        filter(({ serial }) => serial === this.serial),
      )
      .subscribe(this.compiled);
    inject(ProjectStore).opened$.subscribe((opened) => {
      if (!opened || opened.document === this.sent) return;
      const { document, edit } = opened;
      // The worker keeps a copy of its own; copying all of it after each edit would hold the page up.
      const message: CompileRequest = {
        serial: ++this.serial,
        ...(edit && edit.from === this.sent ? { changes: edit.changes } : { document }),
      };
      worker.postMessage(message);
      this.sent = document;
    });
  }
}
