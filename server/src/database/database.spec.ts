import type { DatabaseHealth } from '@plain-envoy/core/feed';
import { Cuttable, makeDatabase } from '../testing.spec-helper.js';
import { Database } from './database.js';

/** Longer than an answer is waited for. */
const BUSY_MS = 2500;

describe('The database', () => {
  let made: Awaited<ReturnType<typeof makeDatabase>>;
  let way: Cuttable;
  let database: Database;
  let told: DatabaseHealth[];

  beforeEach(async () => {
    made = await makeDatabase();
    way = new Cuttable(new URL(made.url));
    told = [];
  });
  afterEach(async () => {
    await database.close();
    await way.cut();
    await made.drop();
  });

  const open = async (url: string) => {
    database = new Database(url, (health) => told.push(health));
    await database.open();
    await database.probe();
  };

  it('is not called away because this thread was too busy to hear it', async () => {
    await open(made.url);
    const probed = database.probe();
    await new Promise(setImmediate);
    for (const end = performance.now() + BUSY_MS; performance.now() < end;);
    await probed;
    expect([database.health, told]).toEqual([{ ok: true }, []]);
  });

  it('is called away where it answers nothing while this thread listens, and back once it does', async () => {
    await open(await way.open());
    way.holdStill('answers');
    await database.probe();
    expect(told).toEqual([jasmine.objectContaining({ ok: false, broken: false })]);
    way.goOn();
    await database.probe();
    expect(told.at(-1)).toEqual({ ok: true });
  });
});
