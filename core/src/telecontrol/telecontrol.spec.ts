import { Archive, EventMemory, lastsMs, leavesBand } from './index.js';

const any = () => true;

describe('The memory of events', () => {
  it('gives the oldest first, keeps what is on its way until it is confirmed, and gives that again where the link is gone', () => {
    const memory = new EventMemory<string>(10);
    for (const event of ['a', 'b', 'c', 'd']) memory.add(event);
    const first = memory.take(() => 2, any);
    expect(first.map(({ event }) => event)).toEqual(['a', 'b']);
    expect(memory.take(() => 9, any).map(({ event }) => event)).toEqual(['c', 'd']);
    expect(memory.take(() => 9, any)).toEqual([]);
    memory.confirm([first[0]!.number]);
    memory.release();
    expect(memory.take(() => 9, any).map(({ event }) => event)).toEqual(['b', 'c', 'd']);
    expect(memory.state).toEqual({ kept: 3, thrownAway: 0, isFull: false });
  });

  it('gives together only what goes together, and never out of order', () => {
    const memory = new EventMemory<string>(10);
    for (const event of ['a1', 'a2', 'b1', 'a3']) memory.add(event);
    const taken = [1, 2, 3].map(() =>
      memory
        .take(
          () => 9,
          (one, next) => one[0] === next[0],
        )
        .map(({ event }) => event),
    );
    expect(taken).toEqual([['a1', 'a2'], ['b1'], ['a3']]);
  });

  it('throws the oldest away where there is no room, and counts it', () => {
    const memory = new EventMemory<number>(3);
    for (let event = 1; event <= 5; event++) memory.add(event);
    const late = memory.take(() => 9, any);
    expect(late.map(({ event }) => event)).toEqual([3, 4, 5]);
    memory.add(6);
    memory.confirm(late.map(({ number }) => number));
    expect(memory.take(() => 9, any).map(({ event }) => event)).toEqual([6]);
    expect(memory.state).toEqual({ kept: 1, thrownAway: 3, isFull: false });
  });

  it('lasts for an outage as long as its events fill it', () => {
    expect([lastsMs(1000, 500), lastsMs(1000, 0)]).toEqual([7_200_000, null]);
  });
});

describe('An archive', () => {
  it('has each event once, by its point and time, in order of time however late it comes', () => {
    const archive = new Archive<number>();
    const came = [
      ['p', 10, 1],
      ['p', 30, 3],
      ['q', 20, 7],
      ['p', 20, 2],
      ['p', 30, 3],
      ['p', 10, 1],
    ] as const;
    expect(came.map(([point, atMs, value]) => archive.add({ point, atMs, value }))).toEqual([true, true, true, true, false, false]);
    expect(archive.of('p').map(({ value }) => value)).toEqual([1, 2, 3]);
    expect(archive.all().map(({ point, atMs }) => `${point} ${atMs}`)).toEqual(['p 10', 'p 20', 'q 20', 'p 30']);
    expect([archive.again, archive.of('none').length]).toEqual([2, 0]);
  });
});

describe('An archive that is full', () => {
  it('lets the oldest of a point go', () => {
    const archive = new Archive<number>(2);
    for (const atMs of [1, 2, 3]) archive.add({ point: 'p', atMs, value: atMs });
    expect(archive.of('p').map(({ value }) => value)).toEqual([2, 3]);
  });
});

describe('A threshold', () => {
  it('is left by as much as it says from what was told last, and by what is no number', () => {
    const left = (sent: number | null, value: number, threshold: number) => leavesBand(sent, value, threshold);
    expect([left(10, 10.4, 0.5), left(10, 10.5, 0.5), left(10, 9.5, 0.5), left(null, 10, 5)]).toEqual([false, true, true, true]);
    expect([left(10, 10, 0), left(10, 10.001, 0), left(NaN, NaN, 1), left(NaN, 3, 1), left(3, NaN, 1)]).toEqual([
      ...[false, true, false, true, true],
    ]);
  });
});
