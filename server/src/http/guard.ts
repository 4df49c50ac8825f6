import type { FastifyInstance } from 'fastify';
import { refuse } from '../problem/index.js';

/**
 * Keeps other sites' pages out: a request must name one of our hosts, and where a browser says which page sent it, that
 * page must be ours. This also stops names that are made to point at this machine.
 */
export function guard(app: FastifyInstance, hosts: ReadonlySet<string>): void {
  app.addHook('onRequest', async (request, reply) => {
    // A refused upgrade is answered like any request, but nobody would close its connection.
    if (request.headers.upgrade) reply.raw.once('finish', () => request.raw.socket.destroySoon());
    const host = request.headers.host ?? '';
    if (!hosts.has(nameOf(host))) refuse('foreign-asker', 'This server does not answer under that host name.', ['host']);
    const { origin } = request.headers;
    if (origin !== undefined && origin !== `${request.protocol}://${host}`)
      refuse('foreign-asker', 'Requests from another site’s page are not taken.', ['origin']);
  });
}

function nameOf(host: string): string {
  return host.replace(/:\d+$/, '').toLowerCase();
}
