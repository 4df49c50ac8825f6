import { failureError } from '@plain-envoy/core/failure';
import type { ListenEvent } from '@plain-envoy/core/feed';
import type { Channel } from '@plain-envoy/engine/links';
import { Claims } from '../claims/index.js';
import { ProblemError } from '../problem/index.js';
import { AskListen, listen } from './index.js';

const settings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;

/** Serial ports of which a test says what comes in; what is written is noted. */
function ports() {
  const open = new Map<string, { hear(bytes: number[]): void; end(): void }>();
  const written: Uint8Array[] = [];
  const closed: string[] = [];
  const opener = (path: string): Promise<Channel> => {
    if (path.endsWith('9')) return Promise.reject(failureError({ code: 'own-port', detail: `${path} cannot be opened.` }));
    return Promise.resolve({
      write: (bytes) => Promise.resolve(void written.push(bytes)),
      listen: (onBytes, onEnd) =>
        void open.set(path, {
          hear: (bytes) => onBytes(Uint8Array.from(bytes)),
          end: () => onEnd({ code: 'own-port', detail: `${path} was closed.` }),
        }),
      close: () => void closed.push(path),
    });
  };
  return { opener, open, written, closed };
}

describe('listening on serial ports', () => {
  const asked = (...paths: string[]) => AskListen.parse({ paths, settings });
  const next = async (events: AsyncGenerator<ListenEvent>) => (await events.next()).value as ListenEvent;

  it('tells what comes in at each, sends nothing, and leaves the ports when it ends', async () => {
    const [claims, stop, { opener, open, written, closed }] = [new Claims(), new AbortController(), ports()];
    const events = listen(asked('/dev/ttyUSB0', '/dev/ttyUSB1'), claims, stop.signal, opener);
    expect(await next(events)).toEqual({ kind: 'listening' });
    expect(claims.otherThan('a project', '/dev/ttyUSB1')?.name).toBe('Listening');
    open.get('/dev/ttyUSB0')!.hear([1, 3]);
    open.get('/dev/ttyUSB1')!.hear([0xff]);
    const told = [await next(events), await next(events)];
    expect(told.map((event) => event.kind === 'heard' && [event.port, event.hex])).toEqual([
      [0, '0103'],
      [1, 'ff'],
    ]);
    const waiting = events.next();
    stop.abort();
    expect((await waiting).done)
      .withContext('also while the line is silent')
      .toBeTrue();
    expect([written, closed]).toEqual([[], ['/dev/ttyUSB0', '/dev/ttyUSB1']]);
    expect(claims.otherThan('a project', '/dev/ttyUSB0')).toBeNull();
  });

  it('is refused where a project uses the port, and says which', async () => {
    const [claims, { opener }] = [new Claims(), ports()];
    claims.take({}, { id: 'p', name: 'Malt house', doing: 'whose bench runs on the real plant' }, ['/dev/ttyUSB0']);
    const events = listen(asked('/dev/ttyUSB0'), claims, new AbortController().signal, opener);
    await expectAsync(events.next()).toBeRejectedWithError(ProblemError, /is used by “Malt house”/);
  });

  it('ends with a sentence where a port cannot be opened, or fails', async () => {
    const [claims, { opener, open, closed }] = [new Claims(), ports()];
    const never = new AbortController().signal;
    const none = listen(asked('/dev/ttyUSB0', '/dev/ttyUSB9'), claims, never, opener);
    expect(await next(none)).toEqual({ kind: 'failed', sentence: '/dev/ttyUSB9 cannot be opened.' });
    expect((await none.next()).done).toBeTrue();
    expect(closed).toEqual(['/dev/ttyUSB0']);
    const events = listen(asked('/dev/ttyUSB0'), claims, never, opener);
    await next(events);
    open.get('/dev/ttyUSB0')!.end();
    expect(await next(events)).toEqual({ kind: 'failed', sentence: '/dev/ttyUSB0 was closed.' });
    expect((await events.next()).done).toBeTrue();
  });

  it('takes one port, or two for two directions, and nothing but serial ports', () => {
    const why = (...paths: string[]) => AskListen.safeParse({ paths, settings }).error?.issues[0]?.message;
    expect(why('/dev/ttyS0')).toBeUndefined();
    expect([why(), why('/etc/passwd'), why('/dev/ttyS0', '/dev/ttyS0'), why('/dev/a', '/dev/b', '/dev/c')]).toEqual([
      'Say which serial port.',
      'A serial port is a path that begins with /dev/.',
      'The two directions need a port each.',
      'One port for each direction, at most two.',
    ]);
  });
});
