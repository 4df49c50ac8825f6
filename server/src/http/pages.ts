import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import helmet from '@fastify/helmet';
import fastifyStatic from '@fastify/static';
import type { FastifyInstance, FastifyReply } from 'fastify';

/**
 * The page and its files. Every address that is no file and no API is the page itself, because its screens have addresses
 * of their own. Styles made at run time carry a nonce that is new each time; nothing else inline is allowed.
 */
export async function addPages(app: FastifyInstance, folder: string): Promise<void> {
  const nonces = new WeakMap<object, string>();
  app.addHook('onRequest', async (_request, reply) => void nonces.set(reply.raw, randomBytes(16).toString('base64')));
  await app.register(helmet, {
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", (_request, response) => `'nonce-${nonces.get(response)}'`],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:'],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'self'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    strictTransportSecurity: false,
  });
  const page = await readFile(join(folder, 'index.html'), 'utf8');
  const send = (reply: FastifyReply) =>
    reply
      .header('cache-control', 'no-store')
      .type('text/html; charset=utf-8')
      .send(page.replaceAll('NONCE', nonces.get(reply.raw) ?? ''));
  await app.register(fastifyStatic, { root: folder, index: false, wildcard: false, preCompressed: true, immutable: true, maxAge: '365d' });
  // What is neither a file nor of the API is a screen, and the page knows its screens.
  app.get('/*', (request, reply) =>
    /^\/api(\/|$)|\.[^/.]*$/.test(new URL(request.url, 'http://page').pathname) ? reply.callNotFound() : send(reply),
  );
}
