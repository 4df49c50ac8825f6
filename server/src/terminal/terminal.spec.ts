import { failureError } from '@plain-envoy/core/failure';
import type { TerminalEvent } from '@plain-envoy/core/feed';
import type { SerialSettings } from '@plain-envoy/core/line';
import { SmallProject } from '@plain-envoy/core/testing';
import type { Channel } from '@plain-envoy/engine/links';
import { createServer, type Server, type Socket } from 'node:net';
import { Arming } from '../arming/index.js';
import { Claims } from '../claims/index.js';
import { ProblemError } from '../problem/index.js';
import { AskText, Terminals } from './index.js';

describe('the terminal of a text line', () => {
  let project: SmallProject;
  let terminals: Terminals;
  let arming: Arming;
  let claims: Claims;
  let adapter: Server;
  let sockets: Socket[];
  let serial: { write: string[]; hear(text: string): void; closed: number };
  const set: SerialSettings[] = [];
  const opened: AsyncGenerator<TerminalEvent>[] = [];

  const document = () => project.document;
  const line = (fields = {}) => project.bus('Scale cable', { framing: 'text', standard: 'rs232', ...fields });
  const open = (lineId: string, on: 'stand-ins' | 'real' = 'stand-ins', stop = new AbortController()) => {
    const events = terminals.open(document(), lineId, on, stop.signal);
    opened.push(events);
    return { events, stop, next: async () => (await events.next()).value as TerminalEvent };
  };
  const send = (lineId: string, text: string, on: 'stand-ins' | 'real' = 'stand-ins') =>
    terminals.send(document(), lineId, AskText.parse({ on, hex: Buffer.from(text).toString('hex') }));

  beforeEach(async () => {
    project = new SmallProject();
    [sockets, serial] = [[], { write: [], hear: () => undefined, closed: 0 }];
    set.length = 0;
    adapter = createServer((socket) => sockets.push(socket.on('error', () => undefined)));
    await new Promise<void>((listening) => adapter.listen(0, '127.0.0.1', listening));
    [arming, claims] = [new Arming(() => undefined), new Claims()];
    terminals = new Terminals({
      ...{ arming, claims },
      adapter: (_, settings) => {
        set.push(settings);
        return Promise.resolve((adapter.address() as { port: number }).port);
      },
      serial: (path): Promise<Channel> => {
        if (path.endsWith('9')) return Promise.reject(failureError({ code: 'own-port', detail: `${path} cannot be opened.` }));
        return Promise.resolve({
          write: (bytes) => Promise.resolve(void serial.write.push(Buffer.from(bytes).toString())),
          listen: (onBytes) => void (serial.hear = (text) => onBytes(Buffer.from(text))),
          close: () => void (serial.closed += 1),
        });
      },
    });
  });
  afterEach(async () => {
    arming.end();
    for (const events of opened.splice(0)) void events.return(undefined);
    for (const socket of sockets) socket.destroy();
    await new Promise((closed) => adapter.close(closed));
  });

  it('tells both directions to all who look, and closes the line with the last of them', async () => {
    const { id } = line();
    const [one, other] = [open(id), open(id)];
    expect(await one.next()).toEqual({ kind: 'open', settings: '19200 8E1' });
    await other.next();
    expect([sockets.length, set.length]).toEqual([1, 1]);
    sockets[0]!.write('0042\r');
    expect(await one.next()).toEqual({ kind: 'heard', atMs: jasmine.any(Number) as never, hex: Buffer.from('0042\r').toString('hex') });
    const came = new Promise<string>((done) => sockets[0]!.once('data', (bytes) => done(bytes.toString())));
    await send(id, 'P\r');
    expect(await came).toBe('P\r');
    expect([(await other.next()).kind, (await other.next()).kind]).toEqual(['heard', 'sent']);
    const closed = new Promise((done) => sockets[0]!.once('close', done));
    expect(await one.next()).toEqual(jasmine.objectContaining({ kind: 'sent', by: null }) as never);
    const waiting = one.events.next();
    one.stop.abort();
    expect((await waiting).done)
      .withContext('also while the line is silent')
      .toBeTrue();
    other.stop.abort();
    await other.events.next();
    await closed;
    await expectAsync(send(id, 'x')).toBeRejectedWithError(ProblemError, 'Nobody has opened this line.');
  });

  it('of the real line is looked at and written to only where a person has allowed that, and ends with it', async () => {
    const { id } = line({ boundTo: '/dev/ttyUSB0' });
    expect(() => open(id, 'real')).toThrowError(ProblemError, /not armed/);
    arming.arm(document().project.id, 'read', 5);
    const { events, next } = open(id, 'real');
    expect((await next()).kind).toBe('open');
    expect(claims.otherThan('another', '/dev/ttyUSB0')?.doing).toBe('which has a terminal there');
    serial.hear('7\r');
    expect((await next()).kind).toBe('heard');
    await expectAsync(send(id, 'P\r', 'real')).toBeRejectedWithError(ProblemError, /not armed/);
    arming.arm(document().project.id, 'write', 5);
    await send(id, 'P\r', 'real');
    expect(serial.write).toEqual(['P\r']);
    await next();
    arming.disarm(document().project.id, 'Enough.');
    expect(await next()).toEqual({ kind: 'failed', sentence: jasmine.stringContaining('is over') as never });
    expect((await events.next()).done).toBeTrue();
    expect([serial.closed, claims.otherThan('another', '/dev/ttyUSB0')]).toEqual([1, null]);
  });

  it('reaches the real line through a serial server as well', async () => {
    const { port } = adapter.address() as { port: number };
    arming.arm(document().project.id, 'read', 5);
    const { id } = line({ boundTo: `127.0.0.1:${port}` });
    const { next } = open(id, 'real');
    expect((await next()).kind).toBe('open');
    sockets[0]!.write('7\r');
    expect(await next()).toEqual(jasmine.objectContaining({ kind: 'heard', hex: '370d' }) as never);
    expect([set.length, claims.otherThan('another', `127.0.0.1:${port}`)?.doing]).toEqual([0, 'which has a terminal there']);
  });

  it('says why a line cannot be opened', async () => {
    arming.arm(document().project.id, 'write', 5);
    expect(() => open(line().id, 'real')).toThrowError(ProblemError, /Nothing of this machine leads to Scale cable/);
    expect(() => open(project.bus('Bus').id)).toThrowError(ProblemError, 'Bus carries no text.');
    expect(() => open('019aa111-0000-7000-8000-00000000ffff')).toThrowError(ProblemError, /not in the project/);
    const { next } = open(line({ boundTo: '/dev/ttyUSB9' }).id, 'real');
    expect(await next()).toEqual({ kind: 'failed', sentence: '/dev/ttyUSB9 cannot be opened.' });
    expect(AskText.safeParse({ on: 'real', hex: '4' }).success).toBeFalse();
    const { id } = line();
    const gone = open(id);
    await gone.next();
    for (const socket of sockets) socket.destroy();
    expect((await gone.next()).kind).toBe('failed');
  });
});
