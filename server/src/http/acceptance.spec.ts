import { acceptanceSteps, type Signed } from '@plain-envoy/core/acceptance';
import type { Section } from '@plain-envoy/core/book';
import { compile } from '@plain-envoy/core/compile';
import { fernhollow } from '@plain-envoy/core/demo';
import { readProjectFile } from '@plain-envoy/core/project-file';
import type { Service } from '../service.js';
import { makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const [step] = acceptanceSteps({ document: demo, ...compile(demo) });
const signing = { sort: step!.sort, of: step!.of, which: step!.which, stage: 'works', result: 'passed', note: '', name: 'A. Tester' };

describe('The protocol of acceptance, by the server', () => {
  let service: Service;
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  const at = (path: string) => `http://127.0.0.1:${service.port}/api/projects/${demo.project.id}/${path}`;
  const sign = (fields: object = {}) =>
    fetch(at('acceptance'), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ...signing, ...fields }),
    });

  beforeAll(async () => {
    database = await makeDatabase();
    service = await serve(database.url);
  });
  afterAll(async () => {
    await service.stop();
    await database.drop();
  });

  it('keeps each signature with what it rested on, in the project file and in the book', async () => {
    expect((await sign({ result: 'failed', note: 'Nothing came.' })).status).toBe(201);
    const response = await sign();
    expect(response.status).toBe(201);
    expect((await response.json()) as Signed).toEqual(jasmine.objectContaining({ ...signing, rests: step!.rests, revision: 0 } as never));
    const list = (await (await fetch(at('acceptance'))).json()) as Signed[];
    expect(list.map(({ result }) => result)).toEqual(['failed', 'passed']);
    const file = readProjectFile(await (await fetch(at('file'))).text());
    expect(file.ok && file.value.evidence.filter(({ kind }) => kind === 'step').length).toBe(2);
    const chapter = (await (await fetch(at('book/protocol'))).json()) as Section;
    expect(chapter.sections.map(({ title }) => title)).toEqual(['At the works', 'On site']);
    expect(JSON.stringify(chapter.sections[0])).toContain('"passed","","A. Tester"');
  });

  it('refuses what is no step, has no name, or did not pass for no reason', async () => {
    expect((await sign({ of: demo.project.id })).status).toBe(404);
    for (const fields of [{ name: '' }, { result: 'failed' }, { stage: 'later' }]) expect((await sign(fields)).status).toBe(422);
  });
});
