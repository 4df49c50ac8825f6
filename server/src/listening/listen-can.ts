import type { CanListenEvent } from '@plain-envoy/core/feed';
import { spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { v7 as newId } from 'uuid';
import { z } from 'zod';
import type { Claims } from '../claims/index.js';
import { Waiting } from '../progress/index.js';
import { canInterfaces, LISTENER } from './can-interfaces.js';

export const AskListenCan = z.strictObject({
  name: z
    .string()
    .trim()
    .min(1, 'Say which interface.')
    .regex(/^[A-Za-z][A-Za-z0-9_.-]{0,14}$/, 'An interface has a name as can0.'),
});
export type AskListenCan = z.infer<typeof AskListenCan>;

/**
 * Tells the frames that come in at an interface of CAN of this machine, as lines of a log (SocketCAN); nothing is ever sent there. It goes on
 * until `ended` fires, or the interface fails. `program` prints what comes.
 */
export async function* listenCan(
  { name }: AskListenCan,
  claims: Claims,
  ended: AbortSignal,
  program = LISTENER,
  interfaces = canInterfaces,
): AsyncGenerator<CanListenEvent> {
  const own = (await interfaces()).interfaces.find((one) => one.name === name);
  if (!own) return yield { kind: 'failed', sentence: `This machine has no interface of CAN that is called ${name}.` };
  if (!own.isUp)
    return yield {
      kind: 'failed',
      sentence: `${name} is down: set its bit rate and bring it up, as with “ip link set ${name} up type can bitrate 250000”.`,
    };
  const listener = {};
  claims.take(listener, { id: newId(), name: 'Listening', doing: 'to learn frames' }, [name]);
  const waiting = new Waiting<CanListenEvent>(ended, { kind: 'failed', sentence: 'The page is too slow for this bus.' });
  const child = spawn(program, ['-L', name], { stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  child.stderr.on('data', (bytes: Buffer) => (said = (said + bytes.toString()).slice(-500)));
  child.on('error', () => waiting.tell({ kind: 'failed', sentence: `${program} of the package can-utils is not installed.` }));
  child.on('close', () => waiting.tell({ kind: 'failed', sentence: `${name} was closed${said.trim() ? `: ${said.trim()}` : '.'}` }));
  createInterface({ input: child.stdout }).on('line', (line) => waiting.tell({ kind: 'heard', line }));
  try {
    yield { kind: 'listening' };
    yield* waiting.until(({ kind }) => kind === 'failed');
  } finally {
    child.kill();
    claims.leave(listener);
  }
}
