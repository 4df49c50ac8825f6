import { Readable } from 'node:stream';
import type { FastifyReply } from 'fastify';

/** Answers with one JSON value a line, as they come; hanging up ends what makes them. */
export function stream(reply: FastifyReply, events: AsyncGenerator<object>): FastifyReply {
  return reply.header('content-type', 'application/x-ndjson').send(Readable.from(lines(events)));
}

/** The same, where what is refused at once is answered as a refusal and not as a stream that fails. */
export async function streamOnceBegun(reply: FastifyReply, events: AsyncGenerator<object>): Promise<FastifyReply> {
  const first = await events.next();
  return stream(reply, after(first, events));
}

async function* after(first: IteratorResult<object>, rest: AsyncGenerator<object>): AsyncGenerator<object> {
  if (!first.done) yield first.value;
  yield* rest;
}

async function* lines(events: AsyncGenerator<object>): AsyncGenerator<string> {
  for await (const event of events) yield `${JSON.stringify(event)}\n`;
}

/** Fires when the page hangs up, or has been told everything. */
export function hangUp(reply: FastifyReply): AbortSignal {
  const stop = new AbortController();
  reply.raw.once('close', () => stop.abort());
  return stop.signal;
}
