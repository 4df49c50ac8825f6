import { inject, Injectable } from '@angular/core';
import type { MadeFileEvent } from '@plain-envoy/core/feed';
import { type Observable, Subject } from 'rxjs';
import { Api } from './api';
import { type MadeFile, madeFile } from './made-file';
import { ProjectStore } from './project';
import { Run } from './run';

/** Everything of the open project that is handed over in one archive, as the server makes it. */
@Injectable({ providedIn: 'root' })
export class Parcels {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly run = new Run<MadeFileEvent>();
  private readonly ready = new Subject<MadeFile>();

  readonly progress$ = this.run.progress$;
  readonly problem$ = this.run.problem$;
  readonly isRunning$ = this.run.isRunning$;
  readonly made$: Observable<MadeFile> = this.ready;

  make(): void {
    this.run.start(this.api.stream<MadeFileEvent>(`projects/${this.project.current!.project.id}/parcel`, {}), (event) => {
      if (event.kind === 'done') this.ready.next(madeFile(event));
    });
  }

  stop(): void {
    this.run.stop();
  }
}
