import { effect, inject, type Signal, signal } from '@angular/core';
import { hasPatterns } from '@plain-envoy/core/model';
import { atEdge } from './state';
import { ProjectStore } from './project';

/** Whether the patterns of telegrams can be run here: what runs them is fetched where the project has any. To be asked where one may inject. */
export function patternsRun(): Signal<boolean> {
  const project = atEdge(inject(ProjectStore), 'document');
  const run = signal(false);
  effect(() => {
    if (hasPatterns(project.document()!)) void import('@plain-envoy/core/re2').then(() => run.set(true));
  });
  return run.asReadonly();
}
