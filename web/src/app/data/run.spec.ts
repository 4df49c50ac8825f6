import { Subject } from 'rxjs';
import { Refused } from './api';
import { Run } from './run';

type Told = { kind: 'progress'; done: number } | { kind: 'failed'; sentence: string } | { kind: 'seen'; what: string };

describe('Something long that the server does', () => {
  let run: Run<Told>;
  let seen: string[];
  let problem: string | null;
  let progress: Told | null;
  let isRunning: boolean;
  const begin = () => {
    const events = new Subject<Told>();
    run.start(events, (event) => seen.push(event.kind));
    return events;
  };
  beforeEach(() => {
    run = new Run();
    seen = [];
    run.problem$.subscribe((text) => (problem = text));
    run.progress$.subscribe((told) => (progress = told));
    run.isRunning$.subscribe((is) => (isRunning = is));
  });

  it('tells how far it is until it is over', () => {
    const events = begin();
    expect(isRunning).toBeTrue();
    events.next({ kind: 'progress', done: 1 });
    expect(progress).toEqual({ kind: 'progress', done: 1 });
    events.next({ kind: 'seen', what: 'this' });
    expect(seen).toEqual(['progress', 'seen']);
    events.complete();
    expect([isRunning, progress, problem]).toEqual([false, null, null]);
  });

  it('is one at a time', () => {
    const first = begin();
    const second = begin();
    expect([first.observed, second.observed]).toEqual([true, false]);
  });

  it('says why it failed until the next begins, and hangs up where it is stopped', () => {
    begin().next({ kind: 'failed', sentence: 'Nothing answers.' });
    expect(problem).toBe('Nothing answers.');
    run.stop();
    expect(isRunning).toBeFalse();
    const events = begin();
    expect(problem).toBeNull();
    run.stop();
    expect(events.observed).toBeFalse();
    begin().error(new Refused({ message: 'Not armed.', path: [] }));
    expect([problem, isRunning]).toEqual(['Not armed.', false]);
    begin().error(new Error('hung up'));
    expect(problem).toBe('The connection to the server was lost.');
  });
});
