import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import { retry, shareReplay, startWith } from 'rxjs';

export interface DocumentChoice {
  id: string;
  title: string;
  extension: string;
}
export type DocumentMenus = Record<
  'map' | 'sheet' | 'mapping' | 'variables' | 'program' | 'losses' | 'book' | 'trace',
  readonly DocumentChoice[]
>;

const none: DocumentMenus = { map: [], sheet: [], mapping: [], variables: [], program: [], losses: [], book: [], trace: [] };

/** The formats in which the server writes register maps, request sheets and traces. */
@Injectable({ providedIn: 'root' })
export class Documents {
  readonly menus$ = inject(HttpClient)
    .get<DocumentMenus>('/api/documents')
    .pipe(retry({ delay: 2000 }), startWith(none), shareReplay(1));
}
