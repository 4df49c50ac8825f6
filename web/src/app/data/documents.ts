import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { retry } from 'rxjs';

export interface DocumentChoice {
  id: string;
  title: string;
  extension: string;
}
type DocumentMenus = Record<'map' | 'sheet' | 'trace', readonly DocumentChoice[]>;

/** The formats in which the server writes register maps, request sheets and traces. */
@Injectable({ providedIn: 'root' })
export class Documents {
  readonly menus = toSignal(
    inject(HttpClient)
      .get<DocumentMenus>('/api/documents')
      .pipe(retry({ delay: 2000 })),
    {
      initialValue: { map: [], sheet: [], trace: [] },
    },
  );
}
