import { Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { askWorker } from './ask-worker';
import type { AskProgram, ToldProgram } from './program.worker';

/** Programs of controllers, made beside the page. */
@Injectable({ providedIn: 'root' })
export class Programs {
  make(asked: AskProgram): Observable<ToldProgram> {
    return askWorker<ToldProgram>(
      () => new Worker(new URL('./program.worker', import.meta.url), { type: 'module' }),
      asked,
      [],
      (problem) => ({ problem }),
    );
  }
}
