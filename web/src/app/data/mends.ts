import { DestroyRef, effect, inject, Injectable, signal } from '@angular/core';
import type { Finding } from '@plain-envoy/core/findings';
import type { Mend } from '@plain-envoy/core/mends';
import type { Tried } from './mends.worker';
import { ProjectStore } from './project';

/** What may mend the findings of the open project, tried on a copy in a worker of its own. Provided by what shows it, and gone with it. */
@Injectable()
export class Mends {
  private readonly tried = signal<ReadonlyMap<string, readonly Mend[]>>(new Map());
  private readonly worker = new Worker(new URL('./mends.worker', import.meta.url), { type: 'module' });
  private serial = 0;

  constructor() {
    const project = inject(ProjectStore);
    inject(DestroyRef).onDestroy(() => this.worker.terminate());
    this.worker.onmessage = ({ data }: MessageEvent<Tried>) => {
      if (data.serial === this.serial) this.tried.update((tried) => new Map(tried).set(keyOf(data.of), data.mends));
    };
    effect((onCleanup) => {
      const document = project.document();
      this.tried.set(new Map());
      if (document) this.worker.postMessage({ serial: ++this.serial, document });
      onCleanup(() => (this.serial += 1));
    });
  }

  /** None while it is tried, or where what was tried made something worse. */
  of(finding: Finding): readonly Mend[] {
    return this.tried().get(keyOf(finding)) ?? [];
  }
}

function keyOf({ check, at }: Tried['of']): string {
  return JSON.stringify([check, at.entity, at.id, at.field]);
}
