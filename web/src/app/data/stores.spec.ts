import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { fernhollow } from '@plain-envoy/core/demo';
import type { Change } from '@plain-envoy/core/model';
import { firstValueFrom, Subject } from 'rxjs';
import { nowOf } from '../testing.spec-helper';
import { Live } from './live';
import type { Accepted } from '@plain-envoy/core/feed';
import { ProjectStore } from './project';
import { PROJECT_ID } from './project-id';

describe('ProjectStore', () => {
  const demo = fernhollow();
  const id = demo.project.id;
  const accepted = new Subject<Accepted>();
  const returned = new Subject<void>();
  let http: HttpTestingController;
  let store: ProjectStore;
  const point = demo.points[0]!;
  const change: Change = { entity: 'point', id: point.id, before: point, after: { ...point, name: 'Renamed' } };
  const entry = (revision: number): Accepted => ({
    projectId: id,
    revision,
    label: 'Rename',
    kind: 'edit',
    changes: [change],
    undo: 'Rename',
    redo: null,
  });
  const turn = () => new Promise((done) => setTimeout(done));

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: PROJECT_ID, useValue: id },
        { provide: Live, useValue: { accepted$: accepted, returned$: returned } },
      ],
    });
    http = TestBed.inject(HttpTestingController);
    store = TestBed.inject(ProjectStore);
    store.load();
    http.expectOne(`/api/projects/${id}`).flush({ revision: 4, document: demo, undo: null, redo: null });
  });
  afterEach(() => http.verify());

  it('takes an edit of another page over', () => {
    accepted.next(entry(5));
    expect(nowOf(store.points$).get(point.id)?.name).toBe('Renamed');
    expect([nowOf(store.revision$), nowOf(store.undoLabel$)]).toEqual([5, 'Rename']);
  });

  it('takes its own edit only once, though it hears of it twice', async () => {
    const saving = firstValueFrom(store.commit('Rename', [change]));
    const request = http.expectOne(`/api/projects/${id}/change-sets`);
    expect(request.request.body).toEqual({ label: 'Rename', baseRevision: 4, changes: [change] });
    accepted.next(entry(5));
    request.flush(entry(5));
    expect((await saving).ok).toBeTrue();
    expect(nowOf(store.revision$)).toBe(5);
  });

  it('loads the whole project again when it has missed an edit', async () => {
    accepted.next(entry(7));
    http.expectOne(`/api/projects/${id}`).flush({ revision: 7, document: demo, undo: null, redo: null });
    await turn();
    expect(nowOf(store.revision$)).toBe(7);
  });

  it('gives a refusal back with its sentence and changes nothing', async () => {
    const saving = firstValueFrom(store.commit('Rename', [change]));
    http
      .expectOne(`/api/projects/${id}/change-sets`)
      .flush(
        { error: { message: '“x” was changed by somebody else.', path: ['changes', 0, 'before'] } },
        { status: 409, statusText: 'Conflict' },
      );
    const answer = await saving;
    expect(!answer.ok && answer.problem.message).toBe('“x” was changed by somebody else.');
    expect(nowOf(store.points$).get(point.id)?.name).toBe(point.name);
  });

  it('says so when the server does not answer at all', async () => {
    const saving = firstValueFrom(store.commit('Rename', [change]));
    http.expectOne(`/api/projects/${id}/change-sets`).error(new ProgressEvent('error'));
    const answer = await saving;
    expect(!answer.ok && answer.problem.message).toContain('The server does not answer');
  });
});
