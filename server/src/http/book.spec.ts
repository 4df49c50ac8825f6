import type { Section } from '@plain-envoy/core/book';
import { fernhollow } from '@plain-envoy/core/demo';
import type { MadeFileEvent } from '@plain-envoy/core/feed';
import type { Project } from '@plain-envoy/core/model';
import type { Service } from '../service.js';
import { makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const { id, book } = demo.project;

describe('The book of a project, by the server', () => {
  let service: Service;
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  const at = (path: string) => `http://127.0.0.1:${service.port}/api/projects/${id}${path && `/${path}`}`;
  const post = (path: string, body: object, signal: AbortSignal | null = null) =>
    fetch(at(path), { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body), signal });
  const events = async (response: Response) =>
    (await response.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as MadeFileEvent);

  beforeAll(async () => {
    database = await makeDatabase();
    service = await serve(database.url);
  });
  afterAll(async () => {
    await service.stop();
    await database.drop();
  });

  it('is read chapter by chapter', async () => {
    const chapter = (await (await fetch(at('book/lines'))).json()) as Section;
    expect(chapter.title).toBe('Lines');
    expect(chapter.sections.map(({ title }) => title)).toEqual(demo.lines.map(({ name }) => name));
    expect((await fetch(at('book/nothing'))).status).toBe(422);
  });

  it('is made as a file, and tells how far it is', async () => {
    const told = await events(await post('book', { format: 'html' }));
    const done = told.at(-1)!;
    if (done.kind !== 'done') return fail(done);
    expect(done.name).toBe('Fernhollow-Maltings-book.html');
    expect(Buffer.from(done.base64, 'base64').toString()).toContain('Kiln gateway');
    const steps = told.flatMap((event) => (event.kind === 'progress' ? event.done : []));
    expect(steps.length).toBeGreaterThan(0);
    expect(steps).toEqual([...steps].sort((a, b) => a - b));
    expect((await post('book', { format: 'docx' })).status).toBe(422);
  });

  it('is of some lines alone, and says of which', async () => {
    const loft = demo.lines.find(({ name }) => name === 'Loft bus')!;
    const chapter = (await (await fetch(at(`book/lines?lines=${loft.id}`))).json()) as Section;
    expect(chapter.sections.map(({ title }) => title)).toEqual(['Loft bus']);
    const done = (await events(await post('book', { format: 'html', lineIds: [loft.id] }))).at(-1)!;
    if (done.kind !== 'done') return fail(done);
    expect(done.name).toBe('Fernhollow-Maltings-book-part.html');
    const html = Buffer.from(done.base64, 'base64').toString();
    expect(html).toContain('<th scope="row">Part</th><td>Loft bus</td>');
    expect(html).not.toContain('Burner control');
    expect((await post('book', { format: 'html', lineIds: [id] })).status).toBe(200);
    expect((await fetch(at(`book/lines?lines=${id}`))).status).toBe(404);
    expect((await fetch(at('book/lines?lines=this'))).status).toBe(422);
    expect((await post('book', { format: 'html', lineIds: [] })).status).toBe(422);
  });

  it('can be stopped by hanging up, and made again', async () => {
    const stop = new AbortController();
    const response = await post('book', { format: 'pdf' }, stop.signal);
    const reader = response.body!.getReader();
    await reader.read();
    stop.abort();
    await expectAsync(reader.read()).toBeRejected();
    expect((await events(await post('book', { format: 'xlsx' }))).at(-1)!.kind).toBe('done');
  });

  it('says why it was not made', async () => {
    const after: Project = { ...demo.project, book: { ...book, logo: 'data:image/png;base64,AAAA', chapters: ['revisions'] } };
    const change = async (label: string, from: Project, to: Project) => {
      const { revision } = (await (await fetch(at(''))).json()) as { revision: number };
      const changes = [{ entity: 'project', id, before: from, after: to }];
      const made = await post('change-sets', { label, baseRevision: revision, changes });
      expect(made.status).toBe(200);
    };
    await change('A logo', demo.project, after);
    const told = (await events(await post('book', { format: 'pdf' }))).at(-1)!;
    expect(told.kind).toBe('failed');
    expect(told.kind === 'failed' && told.sentence).toContain('logo');
    await change('Without the logo', after, demo.project);
  });
});
