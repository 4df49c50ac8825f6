import type { CanListenEvent } from '@plain-envoy/core/feed';
import { chmod, mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Claims } from '../claims/index.js';
import { ProblemError } from '../problem/index.js';
import { AskListenCan, canInterfaces, listenCan } from './index.js';

describe('listening on interfaces of CAN', () => {
  let folder: string;
  beforeEach(async () => {
    folder = await mkdtemp(join(tmpdir(), 'can-'));
    for (const [name, type, flags] of [
      ['can0', '280', '0x40081'],
      ['can1', '280', '0x40080'],
      ['eth0', '1', '0x1003'],
    ] as const) {
      await mkdir(join(folder, name));
      await writeFile(join(folder, name, 'type'), `${type}\n`);
      await writeFile(join(folder, name, 'flags'), `${flags}\n`);
    }
  });
  afterEach(() => rm(folder, { recursive: true }));

  /** A program in the place of that which listens: it says its arguments as a frame would be said, and then waits. */
  const program = async (script: string) => {
    const path = join(folder, 'candump');
    await writeFile(path, `#!/bin/sh\n${script}\n`);
    await chmod(path, 0o755);
    return path;
  };
  const ofMachine = () => canInterfaces(folder);
  const next = async (events: AsyncGenerator<CanListenEvent>) => (await events.next()).value as CanListenEvent;

  it('are those that the system has, and what is missing to hear them is said', async () => {
    const two = [
      { name: 'can0', isUp: true },
      { name: 'can1', isUp: false },
    ];
    expect(await canInterfaces(folder, '/nowhere')).toEqual({ interfaces: two, lacks: 'candump of the package can-utils' });
    await program('exit 0');
    expect(await canInterfaces(folder, `/nowhere:${folder}`)).toEqual({ interfaces: two, lacks: null });
    expect(await canInterfaces('/nowhere')).toEqual({ interfaces: [], lacks: null });
  });

  it('tell each frame that comes as a line, until nobody listens any more', async () => {
    const [claims, stop] = [new Claims(), new AbortController()];
    const heard = await program('echo "(1.000000) $2 123#01"; echo "(1.100000) $2 123#02"; exec sleep 60');
    const events = listenCan(AskListenCan.parse({ name: 'can0' }), claims, stop.signal, heard, ofMachine);
    expect(await next(events)).toEqual({ kind: 'listening' });
    expect(claims.otherThan('a project', 'can0')?.name).toBe('Listening');
    expect([await next(events), await next(events)]).toEqual([
      { kind: 'heard', line: '(1.000000) can0 123#01' },
      { kind: 'heard', line: '(1.100000) can0 123#02' },
    ]);
    const waiting = events.next();
    stop.abort();
    expect((await waiting).done).toBeTrue();
    expect(claims.otherThan('a project', 'can0')).toBeNull();
  });

  it('say why nothing is heard, and are refused where somebody uses them', async () => {
    const of = (name: string, command: string) => listenCan({ name }, new Claims(), new AbortController().signal, command, ofMachine);
    expect(await next(of('can7', ''))).toEqual({ kind: 'failed', sentence: 'This machine has no interface of CAN that is called can7.' });
    expect((await next(of('can1', ''))).kind).toBe('failed');
    const told = async (command: string) => {
      const events = of('can0', command);
      await next(events);
      return next(events);
    };
    expect(await told(join(folder, 'not-there'))).toEqual({
      kind: 'failed',
      sentence: `${join(folder, 'not-there')} of the package can-utils is not installed.`,
    });
    expect(await told(await program('echo "no such device" >&2; exit 1'))).toEqual({
      kind: 'failed',
      sentence: 'can0 was closed: no such device',
    });
    const claims = new Claims();
    claims.take({}, { id: 'p', name: 'Malt house', doing: 'which hears it' }, ['can0']);
    const events = listenCan({ name: 'can0' }, claims, new AbortController().signal, 'true', ofMachine);
    await expectAsync(events.next()).toBeRejectedWithError(ProblemError, /is used by “Malt house”/);
    expect(AskListenCan.safeParse({ name: 'can0; rm' }).success).toBeFalse();
  });
});
