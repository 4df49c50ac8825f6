import { TestBed } from '@angular/core/testing';
import {
  type FeedKind,
  feedText,
  type FeedRows,
  idleBench,
  newCounters,
  type Reading,
  type ToPage,
  type Watch,
} from '@plain-envoy/core/feed';
import { BehaviorSubject, of } from 'rxjs';
import { nowOf } from '../testing.spec-helper';
import { Live } from './live';
import { PROJECT_ID } from './project-id';

/** A socket that the test opens, speaks through and breaks. */
class FakeSocket {
  static last: FakeSocket;
  static readonly OPEN = 1;
  readyState = 0;
  onopen: (() => void) | null = null;
  onclose: ((event: object) => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  readonly said: { watch: Watch }[] = [];

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
    this.said.push(JSON.parse(text) as { watch: Watch });
  }

  close(): void {
    this.readyState = 3;
    this.onclose?.({ wasClean: false, code: 1006 });
  }
}

describe('Live', () => {
  const real = globalThis.WebSocket;
  let live: Live;
  /** A row as the server tells it to the page that has last said what it looks at. */
  const row = <Kind extends FeedKind>(kind: Kind, id: string, fields: FeedRows[Kind]): ToPage => {
    const watch = FakeSocket.last.said.at(-1)!.watch;
    return {
      ...{ type: 'values', watch: watch.number },
      [kind]: [[watch[kind].indexOf(id), ...(JSON.parse(`[${feedText(kind, fields)}]`) as unknown[])]],
    };
  };
  const value = (pointId: string, words: number[]): ToPage => {
    const reading: Reading = { pointId, words, quality: 'good', reason: null, atMs: 1 };
    return row('points', pointId, reading);
  };
  /** What is looked at together is asked for together. */
  const gathered = () => jasmine.clock().tick(30);
  const bench = (running: boolean, sinceMs: number): ToPage => ({
    type: 'bench',
    bench: { ...idleBench, running, projectId: 'x', sinceMs },
  });

  beforeEach(() => {
    globalThis.WebSocket = FakeSocket as never;
    jasmine.clock().install();
    TestBed.configureTestingModule({ providers: [{ provide: PROJECT_ID, useValue: 'mill' }] });
    live = TestBed.inject(Live);
    FakeSocket.last.open();
  });
  afterEach(() => {
    jasmine.clock().uninstall();
    globalThis.WebSocket = real;
  });

  it('tells why the stand-ins could not follow the project, and how often a device is asked', () => {
    FakeSocket.last.tell({ type: 'stand-ins', problem: 'The address is taken.', port: 2502 });
    expect([nowOf(live.standInsProblem$), nowOf(live.standInsPort$)]).toEqual(['The address is taken.', 2502]);
    FakeSocket.last.tell({ type: 'stand-ins', problem: null, port: 2502 });
    expect(nowOf(live.standInsProblem$)).toBeNull();
    live.devices.of(of(['fan'])).subscribe();
    gathered();
    for (const answered of [0, 8]) FakeSocket.last.tell(row('devices', 'fan', { ...newCounters('fan'), answered }));
    expect(live.rate('fan')).toBe(8);
    expect(live.rate('nobody')).toBe(0);
  });

  it('keeps the newest value of each point, until a new run starts from nothing', () => {
    const seen: (number[] | null | undefined)[] = [];
    live.points.of(of(['p'])).subscribe((rows) => seen.push(rows.get('p')?.words));
    gathered();
    FakeSocket.last.tell(bench(true, 1));
    FakeSocket.last.tell(value('p', [1]));
    FakeSocket.last.tell(value('p', [2]));
    expect(seen.at(-1)).toEqual([2]);
    FakeSocket.last.tell(bench(false, 1));
    expect(seen.at(-1)).toEqual([2]);
    FakeSocket.last.tell(bench(true, 2));
    expect(seen.at(-1)).toBeUndefined();
  });

  it('tells the server what all parts of the page look at, together and once each', () => {
    const table = live.points.of(of(['a', 'b'])).subscribe();
    live.points.of(of(['b', 'c'])).subscribe();
    live.routes.of(of(['r'])).subscribe();
    gathered();
    expect(FakeSocket.last.said.length).toBe(2);
    expect(FakeSocket.last.said.at(-1)!.watch).toEqual({ number: 2, points: ['a', 'b', 'c'], routes: ['r'], devices: [], requests: [] });
    table.unsubscribe();
    gathered();
    expect(FakeSocket.last.said.at(-1)!.watch.points).toEqual(['b', 'c']);
  });

  it('tells a reader of what it looks at, and of nothing else', () => {
    const ids = new BehaviorSubject<readonly string[]>(['a']);
    let told = 0;
    let known: string[] = [];
    live.points.of(ids).subscribe((rows) => {
      told += 1;
      known = [...rows].map(([id, { words }]) => `${id} ${words?.join()}`);
    });
    live.points.of(of(['b'])).subscribe();
    gathered();
    FakeSocket.last.tell(value('b', [7]));
    expect(told).toBe(1);
    FakeSocket.last.tell(value('a', [6]));
    expect([told, known]).toEqual([2, ['a 6']]);
    ids.next(['a']);
    expect(told).toBe(2);
    ids.next(['a', 'b']);
    expect([told, known]).toEqual([3, ['a 6', 'b 7']]);
  });

  it('keeps nothing of what nobody looks at any more, which may be otherwise by then', () => {
    const first = live.points.of(of(['a'])).subscribe();
    gathered();
    FakeSocket.last.tell(value('a', [6]));
    first.unsubscribe();
    gathered();
    let size = -1;
    live.points.of(of(['a'])).subscribe((rows) => (size = rows.size));
    expect(size).toBe(0);
  });

  it('has how many routes fare how', () => {
    FakeSocket.last.tell({ type: 'values', watch: 1, tally: { good: 3, bad: 1 } });
    expect(nowOf(live.tally$)).toEqual({ good: 3, bad: 1 });
    FakeSocket.last.tell(bench(true, 5));
    expect(nowOf(live.tally$)).toEqual({});
  });

  it('connects again after a loss, says so, and looks at the same points', () => {
    live.points.of(of(['a'])).subscribe();
    gathered();
    let returned = 0;
    live.returned$.subscribe(() => (returned += 1));
    const lost = FakeSocket.last;
    lost.close();
    expect(nowOf(live.connected$)).toBeFalse();
    jasmine.clock().tick(1100);
    expect(FakeSocket.last).not.toBe(lost);
    FakeSocket.last.open();
    expect([nowOf(live.connected$), returned]).toEqual([true, 1]);
    expect(FakeSocket.last.said.map(({ watch }) => watch.points)).toEqual([['a']]);
  });

  it('passes on what becomes of the database, and edits of others', () => {
    const labels: string[] = [];
    live.accepted$.subscribe((accepted) => labels.push(accepted.label));
    FakeSocket.last.tell({ type: 'database', database: { ok: false, sinceMs: 1, broken: false, message: 'Away.' } });
    FakeSocket.last.tell({
      type: 'changed',
      accepted: { projectId: 'x', revision: 1, label: 'Rename', kind: 'edit', changes: [], undo: null, redo: null },
    });
    expect([nowOf(live.database$).ok, labels]).toEqual([false, ['Rename']]);
  });

  it('says what came of an edit of which it was not known whether it was saved, and of mistakes of the server', () => {
    const told: string[] = [];
    live.told$.subscribe((text) => told.push(text));
    for (const saved of [true, false]) FakeSocket.last.tell({ type: 'settled', settled: { projectId: 'x', label: 'Set Kiln bus', saved } });
    FakeSocket.last.tell({ type: 'trouble', message: 'The server made a mistake of its own.' });
    expect(told).toEqual([
      'The database is back. “Set Kiln bus”, of which it was not known, was saved.',
      'The database is back. “Set Kiln bus”, of which it was not known, was not saved: do it again.',
      'The server made a mistake of its own.',
    ]);
  });
});
