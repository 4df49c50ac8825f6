import { computed, effect, inject, Injectable, signal } from '@angular/core';
import { causesFirst, type Finding, findingKey } from '@plain-envoy/core/findings';
import type { Mend } from '@plain-envoy/core/mends';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Plan } from '@plain-envoy/core/plan';
import type { CompileRequest } from './compile.worker';
import { ProjectStore } from './project';

interface Compiled {
  kind: 'compiled';
  serial: number;
  plan: Plan;
  findings: Finding[];
}

/** What was tried on a copy for one finding, and makes nothing worse. */
interface Tried {
  kind: 'tried';
  serial: number;
  key: string;
  mends: Mend[];
}

const nothing: Compiled = { kind: 'compiled', serial: 0, plan: { endpoints: [], requests: [], routes: [] }, findings: [] };

/** The plan and the findings of the open project, compiled in a web worker after each edit. */
@Injectable({ providedIn: 'root' })
export class PlanStore {
  private readonly compiled = signal(nothing);
  private readonly worker = new Worker(new URL('./compile.worker', import.meta.url), { type: 'module' });
  private readonly tried = signal<ReadonlyMap<string, readonly Mend[]>>(new Map());
  private serial = 0;
  private sent: ProjectDocument | null = null;

  readonly plan = computed(() => this.compiled().plan);
  /** What keeps something from running comes first. */
  readonly findings = computed(() => [...this.compiled().findings].sort(causesFirst));

  /** What may mend a finding; none while it is tried, or where what was tried made something worse. */
  mends(finding: Finding): readonly Mend[] {
    return this.tried().get(findingKey(finding)) ?? [];
  }

  constructor() {
    const project = inject(ProjectStore);
    this.worker.onmessage = ({ data }: MessageEvent<Compiled | Tried>) => {
      if (data.serial !== this.serial) return;
      if (data.kind === 'tried') return this.tried.update((tried) => new Map(tried).set(data.key, data.mends));
      this.tried.set(new Map());
      this.compiled.set(data);
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
