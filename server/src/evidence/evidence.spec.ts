import { fernhollow } from '@plain-envoy/core/demo';
import { Database } from '../database/index.js';
import { ProjectStore } from '../projects/index.js';
import { makeDatabase } from '../testing.spec-helper.js';
import { Evidence } from './evidence.js';

const projectId = fernhollow().project.id;
const [first, second] = fernhollow().routes.map(({ id }) => id);

describe('evidence', () => {
  let made: Awaited<ReturnType<typeof makeDatabase>>;
  let database: Database;
  let evidence: Evidence;

  beforeEach(async () => {
    made = await makeDatabase();
    database = new Database(made.url, () => undefined);
    await database.open();
    await new ProjectStore(database, () => undefined).seed(fernhollow());
    evidence = new Evidence(database);
  });
  afterEach(async () => {
    await database.close();
    await made.drop();
  });

  it('is kept with what it is about and the revision, and told newest first', async () => {
    const kept = [];
    for (const verdict of ['failed', 'passed']) kept.push(await evidence.keep(projectId, 'proof', first!, 3, { verdict }));
    const list = await evidence.list(projectId, 'proof', 10);
    expect(list).toEqual([kept[1]!, kept[0]!]);
    expect(list[0]).toEqual(jasmine.objectContaining({ of: first, revision: 3, body: { verdict: 'passed' } }));
    expect(Math.abs(list[0]!.atMs - Date.now())).toBeLessThan(60_000);
  });

  it('is told by kind, by what it is about, and no more than asked for', async () => {
    await evidence.keep(projectId, 'proof', first!, 1, { number: 1 });
    await evidence.keep(projectId, 'proof', second!, 1, { number: 2 });
    await evidence.keep(projectId, 'hand', first!, 1, { number: 3 });
    const numbers = async (...asked: Parameters<Evidence['list']>) => (await evidence.list(...asked)).map(({ body }) => body['number']);
    expect(await numbers(projectId, 'proof', 10)).toEqual([2, 1]);
    expect(await numbers(projectId, 'proof', 1)).toEqual([2]);
    expect(await numbers(projectId, 'proof', 10, first)).toEqual([1]);
    expect(await numbers(projectId, 'hand', 10)).toEqual([3]);
    expect(await numbers(projectId, 'errand', 10)).toEqual([]);
    expect(await numbers(first!, 'proof', 10))
      .withContext('of another project')
      .toEqual([]);
  });

  it('of each thing the newest is found at once', async () => {
    for (const number of [1, 2, 3]) await evidence.keep(projectId, 'proof', number === 2 ? second! : first!, number, { number });
    const latest = await evidence.latest(projectId, 'proof');
    expect(latest.map(({ of, revision }) => [of, revision]).sort()).toEqual(
      [
        [first, 3],
        [second, 2],
      ].sort() as never,
    );
    expect(await evidence.latest(projectId, 'errand')).toEqual([]);
  });
});
