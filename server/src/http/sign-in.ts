import fastifyCookie from '@fastify/cookie';
import rateLimit from '@fastify/rate-limit';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { actFor, isPassphrase, Sessions } from '../access/index.js';
import { ProblemError, refuse } from '../problem/index.js';

const COOKIE = 'plain-envoy';
/** Where nobody signs in, what somebody calls himself. It keeps nothing and opens nothing. */
const CALLED = 'plain-envoy-name';
const YEAR_S = 365 * 24 * 3600;
const TRIES = { max: 5, timeWindow: 60_000 };
const SWEEP_MS = 60_000;

const AskSignIn = z.strictObject({
  name: z.string().trim().min(1, 'Your name is needed: it stands beside what you do.').max(60, 'At most 60 characters.'),
  passphrase: z.string().max(1000, 'At most 1000 characters.'),
});

/** Paths of the API that are answered to whoever comes. */
const OPEN = ['/api/session', '/api/sign-in'];

const AskCalled = z.strictObject({ name: z.string().trim().max(60, 'At most 60 characters.') });

/** Nobody has to sign in; what is done is done in the name that somebody has given, if any. */
async function addCalled(app: FastifyInstance): Promise<void> {
  await app.register(fastifyCookie);
  const calledIn = (cookies: Record<string, string | undefined>) => AskCalled.safeParse({ name: cookies[CALLED] ?? '' }).data?.name || null;
  app.addHook('onRequest', (request, _reply, done) => {
    const name = calledIn(request.cookies);
    if (name === null) return done();
    actFor(name, done);
  });
  const typed = app.withTypeProvider<ZodTypeProvider>();
  typed.get('/api/session', (request) => ({ needed: false, name: calledIn(request.cookies) }));
  typed.put('/api/session', { schema: { body: AskCalled } }, (request, reply) => {
    const { name } = request.body;
    return reply
      .setCookie(CALLED, name, { path: '/', httpOnly: true, sameSite: 'strict', maxAge: name ? YEAR_S : 0 })
      .send({ needed: false, name: name || null });
  });
}

/**
 * Where a passphrase is set, everything of the API is for those who have signed in with it, and what they do is done in their
 * name. `kept` is what is kept of the passphrase; null where nobody has to sign in.
 */
export async function addSignIn(app: FastifyInstance, kept: string | null, isSecure: boolean): Promise<void> {
  if (kept === null) return addCalled(app);
  const sessions = new Sessions();
  const sweep = setInterval(() => sessions.sweep(), SWEEP_MS).unref();
  app.addHook('onClose', () => clearInterval(sweep));
  await app.register(fastifyCookie);
  await app.register(rateLimit, {
    global: false,
    errorResponseBuilder: (_request, { ttl }) =>
      new ProblemError('too-often', {
        message: `That was tried too often. Try again in ${Math.ceil(ttl / 1000)} s.`,
        path: ['passphrase'],
      }),
  });
  app.addHook('onRequest', (request, _reply, done) => {
    const path = request.url.split('?')[0]!;
    const session = sessions.of(request.cookies[COOKIE]);
    const isOpen = !path.startsWith('/api/') || OPEN.includes(path);
    if (!session && !isOpen) return done(new ProblemError('not-signed-in', { message: 'Sign in first.', path: [] }));
    if (!session) return done();
    // A feed that is open ends with the session that it was opened in.
    if (request.headers.upgrade) session.over.addEventListener('abort', () => request.raw.socket.destroy(), { once: true });
    actFor(session.name, done);
  });
  const typed = app.withTypeProvider<ZodTypeProvider>();
  typed.get('/api/session', (request) => ({ needed: true, name: sessions.of(request.cookies[COOKIE])?.name ?? null }));
  typed.post('/api/sign-in', { schema: { body: AskSignIn }, config: { rateLimit: TRIES } }, async (request, reply) => {
    const { name, passphrase } = request.body;
    if (!(await isPassphrase(passphrase, kept))) refuse('wrong-passphrase', 'This is not the passphrase.', ['passphrase']);
    const cookie = { path: '/', httpOnly: true, sameSite: 'strict', secure: isSecure } as const;
    return reply.setCookie(COOKIE, sessions.begin(name), cookie).send({ needed: true, name });
  });
  typed.post('/api/sign-out', (request, reply) => {
    sessions.end(request.cookies[COOKIE]!);
    return reply.clearCookie(COOKIE, { path: '/' }).send({ needed: true, name: null });
  });
}
