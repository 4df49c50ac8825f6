import { computed, effect, inject, Injectable, signal } from '@angular/core';
import type { Finding } from '@plain-envoy/core/findings';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Plan } from '@plain-envoy/core/plan';
import type { CompileRequest } from './compile.worker';
import { ProjectStore } from './project';

interface Compiled {
  serial: number;
  plan: Plan;
  findings: Finding[];
}

const nothing: Compiled = { serial: 0, plan: { endpoints: [], requests: [], routes: [] }, findings: [] };

/** The plan and the findings of the open project, compiled in a web worker after each edit. */
@Injectable({ providedIn: 'root' })
export class PlanStore {
  private readonly compiled = signal(nothing);
  private readonly worker = new Worker(new URL('./compile.worker', import.meta.url), { type: 'module' });
  private serial = 0;
  private sent: ProjectDocument | null = null;

  readonly plan = computed(() => this.compiled().plan);
  /** What keeps something from running comes first. */
  readonly findings = computed(() => this.compiled().findings);

  constructor() {
    const project = inject(ProjectStore);
    this.worker.onmessage = ({ data }: MessageEvent<Compiled>) => {
      if (data.serial === this.serial) this.compiled.set(data);
    };
    effect(() => {
      const document = project.document();
      if (!document) return;
      // The worker keeps a copy of its own; copying all of it after each edit would hold the page up.
      const edit = project.lastEdit();
      const message: CompileRequest = {
        serial: ++this.serial,
        ...(edit && edit.from === this.sent ? { changes: edit.changes } : { document }),
      };
      this.worker.postMessage(message);
      this.sent = document;
    });
  }
}
