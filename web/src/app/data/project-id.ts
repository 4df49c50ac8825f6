import { InjectionToken } from '@angular/core';

/** The project that this page is about: a page has one, for as long as it is there. */
export const PROJECT_ID = new InjectionToken<string>('the project of this page');

/** The project in an address, `/project/ID/site`; null where there is none, as on the first page. */
export function projectInAddress(path: string): string | null {
  return /^\/project\/([0-9a-f-]{36})(\/|$)/.exec(path)?.[1] ?? null;
}

/** Where the screens of a project are. */
export function addressOf(projectId: string): string {
  return `/project/${projectId}/`;
}
