import { EventEmitter } from 'node:events';
import type { Batch, Counters, Reading } from '@plain-envoy/core/feed';
import { eventually } from '../testing.spec-helper.js';
import { LiveFeed } from './index.js';

/** A page's socket whose unread bytes the test decides. */
class FakeSocket extends EventEmitter {
  bufferedAmount = 0;
  readonly said: Batch[] = [];
  send(text: string): void {
    this.said.push(JSON.parse(text) as Batch);
  }
  close(): void {
    this.emit('close');
  }
}

const POINT = '019aa000-0000-7000-8000-000000000001';
const OTHER = '019aa000-0000-7000-8000-000000000002';

function batch(value: number, answered: number): Batch {
  const reading = (pointId: string): Reading => ({ pointId, words: [value], quality: 'good', reason: null, atMs: value });
  const counters = { id: 'device', answered } as Counters;
  return { readings: [reading(POINT), reading(OTHER)], routes: [], devices: [counters], requests: [] };
}

describe('LiveFeed', () => {
  let feed: LiveFeed;
  let watched: ReadonlySet<string>;
  const join = (socket: FakeSocket) => feed.join(socket as never, []);

  beforeEach(() => {
    watched = new Set();
    feed = new LiveFeed((points) => (watched = points));
  });
  afterEach(() => feed.end());

  it('leaves intermediate values out for a slow page, but no count', async () => {
    const quick = new FakeSocket();
    const slow = new FakeSocket();
    for (const socket of [quick, slow]) {
      join(socket);
      socket.emit('message', Buffer.from(JSON.stringify({ watch: [POINT] })));
    }
    slow.bufferedAmount = 10_000_000;
    for (let value = 1; value <= 3; value++) {
      feed.batch(batch(value, value * 10));
      await eventually(() => quick.said.length === value);
    }
    expect(slow.said).toEqual([]);
    slow.bufferedAmount = 0;
    await eventually(() => slow.said.length > 0);
    expect(slow.said.length).toBe(1);
    expect(slow.said[0]?.readings.map((row) => row.words)).toEqual([[3]]);
    expect(slow.said[0]?.devices.map((row) => row.answered)).toEqual([30]);
    expect(quick.said.flatMap((message) => message.readings.map((row) => row.pointId))).toEqual([POINT, POINT, POINT]);
  });

  it('asks for what all pages together look at, and for less when one leaves', () => {
    const [first, second] = [new FakeSocket(), new FakeSocket()];
    for (const socket of [first, second]) join(socket);
    first.emit('message', Buffer.from(JSON.stringify({ watch: [POINT] })));
    second.emit('message', Buffer.from(JSON.stringify({ watch: [OTHER] })));
    expect([...watched].sort()).toEqual([POINT, OTHER]);
    second.close();
    expect([...watched]).toEqual([POINT]);
  });
});
