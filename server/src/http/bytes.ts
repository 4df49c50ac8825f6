import type { FastifyInstance, FastifyRequest } from 'fastify';
import { refuse } from '../problem/index.js';

/** Files are taken as they are. How large one may be, its route says. */
export function addBytes(app: FastifyInstance): void {
  app.addContentTypeParser('application/octet-stream', { parseAs: 'buffer' }, (_request, body, done) => done(null, body));
}

/** The file that was sent; refused where something else was. */
export function bytesOf({ body }: Pick<FastifyRequest, 'body'>): Buffer {
  return Buffer.isBuffer(body) ? body : refuse('wrong-media', 'A file is sent as application/octet-stream.');
}
