import { TestBed } from '@angular/core/testing';
import { idleBench, newCounters, type ToPage } from '@plain-envoy/core/feed';
import { Live } from './live';

/** A socket that the test opens, speaks through and breaks. */
class FakeSocket {
  static last: FakeSocket;
  static readonly OPEN = 1;
  readyState = 0;
  onopen: (() => void) | null = null;
  onclose: ((event: object) => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  readonly said: { watch: string[] }[] = [];

  constructor() {
    FakeSocket.last = this;
  }

  open(): void {
    this.readyState = 1;
    this.onopen?.();
  }

  tell(message: ToPage): void {
    this.onmessage?.({ data: JSON.stringify(message) });
  }

  send(text: string): void {
    this.said.push(JSON.parse(text) as { watch: string[] });
  }

  close(): void {
    this.readyState = 3;
    this.onclose?.({ wasClean: false, code: 1006 });
  }
}

describe('Live', () => {
  const real = globalThis.WebSocket;
  let live: Live;
  const values = (words: number[]): ToPage => ({
    type: 'values',
    readings: [{ pointId: 'p', words, quality: 'good', reason: null, atMs: 1 }],
    routes: [],
    devices: [],
    requests: [],
  });
  const bench = (running: boolean, sinceMs: number): ToPage => ({
    type: 'bench',
    bench: { ...idleBench, running, projectId: 'x', sinceMs },
  });

  beforeEach(() => {
    globalThis.WebSocket = FakeSocket as never;
    jasmine.clock().install();
    live = TestBed.inject(Live);
    FakeSocket.last.open();
  });
  afterEach(() => {
    jasmine.clock().uninstall();
    globalThis.WebSocket = real;
  });

  it('tells why the stand-ins could not follow the project, and how often a device is asked', () => {
    FakeSocket.last.tell({ type: 'stand-ins', problem: 'The address is taken.' });
    expect(live.standInsProblem()).toBe('The address is taken.');
    FakeSocket.last.tell({ type: 'stand-ins', problem: null });
    expect(live.standInsProblem()).toBeNull();
    const batch = (answered: number) => ({
      ...{ type: 'values' as const, readings: [], routes: [], requests: [] },
      devices: [{ ...newCounters('fan'), answered }],
    });
    FakeSocket.last.tell(batch(0));
    FakeSocket.last.tell(batch(8));
    expect(live.rate('fan')).toBe(8);
    expect(live.rate('nobody')).toBe(0);
  });

  it('keeps the newest value of each point, until a new run starts from nothing', () => {
    FakeSocket.last.tell(bench(true, 1));
    FakeSocket.last.tell(values([1]));
    FakeSocket.last.tell(values([2]));
    expect(live.reading('p')?.words).toEqual([2]);
    FakeSocket.last.tell(bench(false, 1));
    expect(live.reading('p')?.words).toEqual([2]);
    FakeSocket.last.tell(bench(true, 2));
    expect(live.reading('p')).toBeUndefined();
  });

  it('tells the server what all parts of the page look at, together and once each', () => {
    const [table, bank] = [{}, {}];
    live.watch(table, ['a', 'b']);
    live.watch(bank, ['b', 'c']);
    expect(FakeSocket.last.said.at(-1)).toEqual({ watch: ['a', 'b', 'c'] });
    live.watch(table, []);
    expect(FakeSocket.last.said.at(-1)).toEqual({ watch: ['b', 'c'] });
  });

  it('connects again after a loss, says so, and looks at the same points', () => {
    live.watch({}, ['a']);
    let returned = 0;
    live.returned.subscribe(() => (returned += 1));
    const lost = FakeSocket.last;
    lost.close();
    expect(live.connected()).toBeFalse();
    jasmine.clock().tick(1100);
    expect(FakeSocket.last).not.toBe(lost);
    FakeSocket.last.open();
    expect([live.connected(), returned]).toEqual([true, 1]);
    expect(FakeSocket.last.said).toEqual([{ watch: ['a'] }]);
  });

  it('passes on what becomes of the database, and edits of others', () => {
    const labels: string[] = [];
    live.accepted.subscribe((accepted) => labels.push(accepted.label));
    FakeSocket.last.tell({ type: 'database', database: { ok: false, sinceMs: 1, broken: false, message: 'Away.' } });
    FakeSocket.last.tell({
      type: 'changed',
      accepted: { projectId: 'x', revision: 1, label: 'Rename', kind: 'edit', changes: [], undo: null, redo: null },
    });
    expect([live.database().ok, labels]).toEqual([false, ['Rename']]);
  });

  it('says what came of an edit of which it was not known whether it was saved, and of mistakes of the server', () => {
    const told: string[] = [];
    live.told.subscribe((text) => told.push(text));
    for (const saved of [true, false]) FakeSocket.last.tell({ type: 'settled', settled: { projectId: 'x', label: 'Set Kiln bus', saved } });
    FakeSocket.last.tell({ type: 'trouble', message: 'The server made a mistake of its own.' });
    expect(told).toEqual([
      'The database is back. “Set Kiln bus”, of which it was not known, was saved.',
      'The database is back. “Set Kiln bus”, of which it was not known, was not saved: do it again.',
      'The server made a mistake of its own.',
    ]);
  });
});
