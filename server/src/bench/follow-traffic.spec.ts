import type { TraceEntry } from '@plain-envoy/core/trace';
import { TrafficFollower } from './index.js';

describe('What goes over the lines of the stand-ins', () => {
  const entry = (number: number) => ({ number }) as TraceEntry;
  let passed: number[];
  let all: number[];
  let isThere: boolean;
  let follower: TrafficFollower;
  /** Lets a quarter of a second pass, and what was asked be answered. */
  const later = async () => {
    jasmine.clock().tick(250);
    for (let turn = 0; turn < 6; turn++) await Promise.resolve();
  };

  beforeEach(() => {
    jasmine.clock().install();
    [passed, all, isThere] = [[], [1, 2], true];
    follower = new TrafficFollower({
      traffic: (after) =>
        isThere
          ? Promise.resolve({ last: all.at(-1)!, entries: all.filter((number) => after > all.at(-1)! || number > after).map(entry) })
          : Promise.reject(new Error('gone')),
      pass: (entries) => passed.push(...entries.map(({ number }) => number)),
    });
  });
  afterEach(() => {
    follower.follow(false);
    jasmine.clock().uninstall();
  });

  it('is passed on once each from the beginning on, and no longer than is wanted', async () => {
    follower.follow(true);
    follower.follow(true);
    await later();
    expect(passed).withContext('of before').toEqual([]);
    all.push(3, 4);
    await later();
    await later();
    expect(passed).toEqual([3, 4]);
    follower.follow(false);
    all.push(5);
    await later();
    expect(passed).toEqual([3, 4]);
    follower.follow(true);
    await later();
    all.push(6);
    await later();
    expect(passed).withContext('of the next run').toEqual([3, 4, 6]);
  });

  it('goes on when the stand-ins are back, also where they were started anew', async () => {
    follower.follow(true);
    await later();
    isThere = false;
    all.push(3);
    await later();
    isThere = true;
    await later();
    expect(passed).toEqual([3]);
    all = [1];
    await later();
    expect(passed).toEqual([3, 1]);
  });
});
