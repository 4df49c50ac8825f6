import { catchError, filter, map, type Observable, of } from 'rxjs';
import { type Answer, Refused } from '../data/api';
import type { Projects } from '../data/projects';
import type { Heard } from './heard-view';

/** Makes a project of what was heard, under a name; tells its id once it is there. */
export function projectOf(projects: Projects, { file }: Heard, name: string): Observable<Answer<string>> {
  const project = JSON.parse(file) as { document: { project: { name: string } } };
  project.document.project.name = name.trim();
  return projects.takeIn(new Blob([JSON.stringify(project)])).pipe(
    filter((event) => event.kind === 'done'),
    map((event): Answer<string> => ({ ok: true, value: event.id })),
    catchError((error: unknown) => {
      if (!(error instanceof Refused)) throw error;
      return of<Answer<string>>({ ok: false, problem: error.problem });
    }),
  );
}
