import { EventEmitter } from 'node:events';
import { type Batch, FeedReader, newCounters, type Reading, type Tally, type ToPage } from '@plain-envoy/core/feed';
import { eventually } from '../testing.spec-helper.js';
import { LiveFeed } from './index.js';

/** A page's socket whose unread bytes the test decides. */
class FakeSocket extends EventEmitter {
  bufferedAmount = 0;
  readonly said: Batch[] = [];
  readonly tallies: Tally[] = [];
  private readonly reader = new FeedReader();
  send(text: string): void {
    const message = JSON.parse(text) as ToPage;
    if (message.type !== 'values') return;
    this.said.push(this.reader.read(message));
    if (message.tally) this.tallies.push(message.tally);
  }
  look(lists: Parameters<FeedReader['watch']>[0]): void {
    this.emit('message', Buffer.from(JSON.stringify(this.reader.watch(lists))));
  }
  close(): void {
    this.emit('close');
  }
}

const POINT = '019aa000-0000-7000-8000-000000000001';
const OTHER = '019aa000-0000-7000-8000-000000000002';

function batch(value: number, answered: number): Batch {
  const reading = (pointId: string): Reading => ({ pointId, words: [value], quality: 'good', reason: null, atMs: value });
  return { readings: [reading(POINT), reading(OTHER)], routes: [], devices: [{ ...newCounters('device'), answered }], requests: [] };
}

describe('LiveFeed', () => {
  let feed: LiveFeed;
  let watched: readonly string[];
  const join = (socket: FakeSocket) => feed.join(socket as never, []);

  beforeEach(() => {
    watched = [];
    feed = new LiveFeed(({ points }) => (watched = points));
  });
  afterEach(() => feed.end());

  it('leaves intermediate values out for a slow page, but no count', async () => {
    const quick = new FakeSocket();
    const slow = new FakeSocket();
    for (const socket of [quick, slow]) {
      join(socket);
      socket.look({ points: [POINT], devices: ['device'] });
    }
    slow.bufferedAmount = 10_000_000;
    for (let value = 1; value <= 3; value++) {
      feed.batch(batch(value, value * 10));
      await eventually(() => quick.said.some(({ readings }) => readings[0]?.words?.[0] === value));
    }
    expect(slow.said).toEqual([]);
    slow.bufferedAmount = 0;
    await eventually(() => slow.said.some(({ devices }) => devices.length > 0));
    expect(slow.said.flatMap(({ readings }) => readings.map((row) => row.words))).toEqual([[3]]);
    expect(slow.said.flatMap(({ devices }) => devices.map((row) => row.answered))).toEqual([30]);
    expect(quick.said.flatMap(({ readings }) => readings.map((row) => row.pointId))).toEqual([POINT, POINT, POINT]);
  });

  it('asks for what all pages together look at, and for less when one leaves', () => {
    const [first, second] = [new FakeSocket(), new FakeSocket()];
    for (const socket of [first, second]) join(socket);
    first.look({ points: [POINT] });
    second.look({ points: [OTHER] });
    expect(watched).toEqual([POINT, OTHER]);
    second.close();
    expect(watched).toEqual([POINT]);
  });

  it('tells at once what is known of that which is looked at anew, and nothing twice', () => {
    const page = new FakeSocket();
    join(page);
    feed.batch(batch(1, 10));
    page.look({ points: [POINT] });
    page.look({ points: [OTHER, POINT], devices: ['device'], requests: ['unknown'] });
    const told = page.said.map(({ readings, devices }) => [readings.map((row) => row.pointId), devices.length]);
    expect(told).toEqual([
      [[POINT], 0],
      [[OTHER], 1],
    ]);
  });

  it('tells every page how many routes fare how, once for each change and again for each run', async () => {
    const page = new FakeSocket();
    join(page);
    const tallied = (tally: Tally) => feed.batch({ readings: [], routes: [], devices: [], requests: [], tally });
    tallied({ good: 2, bad: 1 });
    await eventually(() => page.tallies.length === 1);
    tallied({ good: 2, bad: 1 });
    tallied({ good: 1, bad: 1 });
    await eventually(() => page.tallies.length === 2);
    feed.clear();
    tallied({ good: 1, bad: 1 });
    await eventually(() => page.tallies.length === 3);
    expect(page.tallies).toEqual([
      { good: 2, bad: 1 },
      { good: 1, bad: 1 },
      { good: 1, bad: 1 },
    ]);
  });

  it('forgets what nobody looks at any more, also where it was on its way, and has what is looked at from within', () => {
    const end = feed.look({ points: [POINT] });
    expect(watched).toEqual([POINT]);
    feed.keep({ points: [POINT], routes: [], requests: [] });
    feed.batch(batch(1, 10));
    expect([feed.reading(POINT)?.words, feed.reading(OTHER)]).toEqual([[1], undefined]);
    end();
    expect(watched).toEqual([]);
    feed.keep({ points: [], routes: [], requests: [] });
    feed.batch(batch(2, 20));
    expect(feed.reading(POINT)).toBeUndefined();
    expect(feed.device('device')?.answered).toBe(20);
  });

  it('turns away a page that says what it cannot say', () => {
    const page = new FakeSocket();
    const closed: unknown[] = [];
    page.close = (...why: unknown[]) => closed.push(...why);
    join(page);
    page.emit('message', Buffer.from('{'));
    page.emit('message', Buffer.from(JSON.stringify({ watch: [POINT] })));
    expect(closed.filter((code) => typeof code === 'number')).toEqual([1007, 1008]);
    page.emit('close');
  });
});
