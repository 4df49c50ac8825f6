import { FailureError, sentenceOf } from '@plain-envoy/core/failure';
import type { ListenEvent } from '@plain-envoy/core/feed';
import { SerialSettings } from '@plain-envoy/core/line';
import { type Channel, openSerialPort } from '@plain-envoy/engine/links';
import { v7 as newId } from 'uuid';
import { z } from 'zod';
import type { Claims } from '../claims/index.js';
import { Waiting } from '../progress/index.js';

const Path = z
  .string()
  .trim()
  .min(1, 'Say which serial port.')
  .max(200, 'At most 200 characters.')
  .regex(/^\/dev\/(?!.*\.\.)/, 'A serial port is a path that begins with /dev/.');

/** One port on a line of two wires; on one of four wires one for each direction. */
export const AskListen = z
  .strictObject({
    paths: z.array(Path).min(1, 'Say which serial port.').max(2, 'One port for each direction, at most two.'),
    settings: SerialSettings,
  })
  .refine(({ paths }) => new Set(paths).size === paths.length, { message: 'The two directions need a port each.', path: ['paths', 1] });
export type AskListen = z.infer<typeof AskListen>;

/**
 * Tells the bytes that come in at serial ports of this machine, with their times; nothing is ever sent there. Ports that somebody else
 * uses are not taken. It goes on until `ended` fires, or a port fails.
 */
export async function* listen(
  { paths, settings }: AskListen,
  claims: Claims,
  ended: AbortSignal,
  open: (path: string, settings: SerialSettings) => Promise<Channel> = openSerialPort,
): AsyncGenerator<ListenEvent> {
  const listener = {};
  claims.take(listener, { id: newId(), name: 'Listening', doing: 'for a project that is made of what is heard' }, paths);
  const channels: Channel[] = [];
  const waiting = new Waiting<ListenEvent>(ended, { kind: 'failed', sentence: 'The page is too slow for this line.' });
  try {
    const from = performance.now();
    for (const [port, path] of paths.entries()) {
      const channel = await open(path, settings);
      channels.push(channel);
      channel.listen(
        (bytes) =>
          waiting.tell({
            kind: 'heard',
            port,
            atMs: Math.round((performance.now() - from) * 1000) / 1000,
            hex: Buffer.from(bytes).toString('hex'),
          }),
        (failure) => waiting.tell({ kind: 'failed', sentence: sentenceOf(failure) }),
      );
    }
    yield { kind: 'listening' };
    yield* waiting.until(({ kind }) => kind === 'failed');
  } catch (error) {
    if (!(error instanceof FailureError)) throw error;
    yield { kind: 'failed', sentence: sentenceOf(error.failure) };
  } finally {
    for (const channel of channels) channel.close();
    claims.leave(listener);
  }
}
